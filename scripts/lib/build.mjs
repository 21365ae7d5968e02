// Builds the application when its sources changed since the last build.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './bundle.mjs';
import { say, Stop } from './say.mjs';
import { quietEnvironment } from './system.mjs';

/** Fingerprint of everything that goes into the build. */
function sourceFingerprint() {
  const hash = createHash('sha256');
  const files = readdirSync(join(root, 'src'), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && !entry.name.endsWith('.test.ts'))
    .map((entry) => join(entry.parentPath, entry.name))
    .concat(
      ['package-lock.json', 'next.config.ts', 'tsconfig.json'].map((file) => join(root, file)),
    )
    .sort();
  for (const file of files)
    hash.update(file.slice(root.length)).update('\0').update(readFileSync(file)).update('\0');
  return hash.digest('hex');
}

export function buildIfChanged() {
  const stamp = join(root, '.next/fair-build');
  const wanted = sourceFingerprint();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  say('Building the application (about a minute) …');
  const result = spawnSync(
    process.execPath,
    [join(root, 'node_modules/next/dist/bin/next'), 'build'],
    {
      cwd: root,
      encoding: 'utf8',
      env: { ...process.env, ...quietEnvironment, NODE_ENV: 'production' },
      maxBuffer: 1 << 26,
    },
  );
  if (result.status !== 0) throw new Stop(`The build failed:\n${result.stdout}\n${result.stderr}`);
  writeFileSync(stamp, wanted);
}
