/** What the documents for maintainers name is there. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '../..');
const docs = readdirSync(join(root, 'docs')).filter((name) => name.endsWith('.md'));
const folders = ['src', 'tests', 'scripts', 'bin'];
const files = [
  ...readdirSync(root),
  ...folders.flatMap((folder) =>
    readdirSync(join(root, folder), { recursive: true, encoding: 'utf8' }).map(
      (name) => `${folder}/${name}`,
    ),
  ),
];

/** Source files in backticks; `{a,b}` stands for each. */
function namedIn(text: string): string[] {
  const quoted = [...text.matchAll(/`([\w/{},.-]*\.(?:tsx?|mjs))`/g)];
  return quoted.flatMap(([, path]) => {
    const list = /^(.*)\{(.*)\}(.*)$/.exec(path);
    return list ? list[2].split(',').map((one) => `${list[1]}${one}${list[3]}`) : [path];
  });
}

test.each(docs)('%s names files that exist', (name) => {
  const named = namedIn(readFileSync(join(root, 'docs', name), 'utf8'));
  const lost = named.filter(
    (path) => !path.startsWith('dist/') && !files.some((file) => `/${file}`.endsWith(`/${path}`)),
  );
  expect(lost).toEqual([]);
});
