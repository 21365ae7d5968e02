// Bundles TypeScript entries into dist/ so that they start at once: the command line and the
// database tools.
import { existsSync, readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('../..', import.meta.url));

/** Entry and folders of each bundle; packages are left outside where they can't be bundled. */
const bundles = {
  fair: { entry: 'src/cli/fair.ts', sources: ['src/cli', 'src/core'], external: [] },
  database: {
    entry: 'src/server/tool.ts',
    sources: ['src/server', 'src/core'],
    external: ['sequelize', 'pg', 'umzug', 'pg-boss'],
  },
  worker: {
    entry: 'src/server/worker.ts',
    sources: ['src/server', 'src/core'],
    external: ['sequelize', 'pg', 'pg-boss'],
  },
};

const newestMs = (folder) =>
  readdirSync(join(root, folder), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .reduce(
      (newest, entry) => Math.max(newest, statSync(join(entry.parentPath, entry.name)).mtimeMs),
      0,
    );

/** Builds dist/NAME.mjs when it is missing or older than its sources. */
export async function bundleIfStale(name) {
  const { entry, sources, external } = bundles[name];
  const output = join(root, 'dist', `${name}.mjs`);
  if (existsSync(output) && statSync(output).mtimeMs >= Math.max(...sources.map(newestMs))) return;
  const { build } = await import('esbuild');
  // Chunks carry a hash in their name; those of an older build would stay for ever.
  for (const file of existsSync(join(root, 'dist')) ? readdirSync(join(root, 'dist')) : [])
    if (file.startsWith(`${name}-`)) rmSync(join(root, 'dist', file));
  await build({
    entryPoints: { [name]: join(root, entry) },
    outdir: join(root, 'dist'),
    outExtension: { '.js': '.mjs' },
    chunkNames: `${name}-[hash]`,
    bundle: true,
    splitting: true,
    minifySyntax: true,
    minifyWhitespace: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    external,
    alias: {
      '@': join(root, 'src'),
      // Its main file is no module, though the package says that it is.
      'maxrects-packer': join(root, 'node_modules/maxrects-packer/dist/maxrects-packer.mjs'),
    },
    logLevel: 'warning',
  });
}
