/** Runs the `fair` command as it is installed. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';

export const root = join(import.meta.dirname, '../..');

export function fair(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [join(root, 'bin/fair.mjs'), ...args],
    { encoding: 'utf8', cwd: root },
  );
  return { status, stdout, stderr };
}
