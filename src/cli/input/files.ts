import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { problem } from '@/core/problem';

/** Bytes of an input file. */
export function readInput(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    const reason =
      (error as NodeJS.ErrnoException).code === 'ENOENT'
        ? 'There is no such file.'
        : (error as Error).message;
    throw problem('file_unreadable', path, 'The file can’t be read.', reason, 'Check the path.');
  }
}

/** Writes a whole file or nothing: to a neighbour first, then renamed over. */
export function writeOutput(path: string, content: string | Uint8Array): void {
  const draft = `${path}.${process.pid}.part`;
  try {
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(draft, content);
    renameSync(draft, path);
  } catch (error) {
    throw problem(
      'file_unwritable',
      path,
      'The file can’t be written.',
      (error as Error).message,
      'Choose another place.',
    );
  }
}

/** To `--out`, or to standard output. */
export function emit(content: string, out: string | undefined): void {
  if (out === undefined) process.stdout.write(content);
  else writeOutput(out, content);
}
