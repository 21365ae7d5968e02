/** Runs the `fair` command as it is installed. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';

export const root = join(import.meta.dirname, '../..');

export function fair(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [join(root, 'bin/fair.mjs'), ...args],
    // A list of networks holds a whole design for each.
    { encoding: 'utf8', cwd: root, maxBuffer: 2 ** 26 },
  );
  return { status, stdout, stderr };
}
