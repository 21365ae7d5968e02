import { Unzip, UnzipInflate, type UnzipFile } from 'fflate';
import { problem, ProblemError } from '@/core/problem';

/** Bounds of an archive: bytes as they really come out, whatever its directory says of them. */
interface ArchiveLimits {
  readonly fileBytes: number;
  readonly entryCount: number;
  readonly entryBytes: number;
  readonly totalBytes: number;
}

interface Archive {
  /** Contents of the entries that are asked for and there. */
  read(isWanted: (name: string) => boolean): Map<string, Uint8Array>;
}

/** Unpacked so much at a time: deflate makes at most 1032 times as much of it. */
const sliceBytes = 2 ** 14;

/**
 * Opens a ZIP archive of unknown origin. Its entries are read in the order of the file,
 * each once: a directory that names one stream many times has no effect. What is not asked for is
 * not unpacked.
 *
 * @param isAllowed names that may occur at all
 * @throws ProblemError `project_too_large`, `project_foreign_entry`, `project_damaged`
 */
export function openArchive(
  bytes: Uint8Array,
  fileName: string,
  isAllowed: (name: string) => boolean,
  limits: ArchiveLimits,
): Archive {
  if (bytes.length > limits.fileBytes)
    throw problem(
      'project_too_large',
      fileName,
      `The file has ${Math.round(bytes.length / 2 ** 20)} MiB.`,
      `Project files up to ${limits.fileBytes / 2 ** 20} MiB are read.`,
      'Remove measurements that are not used, and export again.',
    );
  const tooLarge = () =>
    problem(
      'project_too_large',
      fileName,
      'The archive unpacks to more than a project may hold.',
      `Up to ${limits.entryCount} entries and ${limits.totalBytes / 2 ** 20} MiB are read.`,
      'Remove measurements that are not used, and export again.',
    );
  const damaged = () =>
    problem(
      'project_damaged',
      fileName,
      'The archive can’t be unpacked.',
      'It is damaged or not a ZIP archive.',
      'Export the project again.',
    );
  if (!hasEnd(bytes)) throw damaged();
  let total = 0;

  function read(isWanted: (name: string) => boolean): Map<string, Uint8Array> {
    const seen = new Set<string>();
    const found = new Map<string, Uint8Array>();
    const unzip = new Unzip((file) => {
      if (file.name.endsWith('/') && isAllowed(file.name)) return;
      if (!isAllowed(file.name) || seen.has(file.name))
        throw problem(
          'project_foreign_entry',
          fileName,
          `The archive holds “${file.name.slice(0, 80)}”${seen.has(file.name) ? ' twice' : ''}.`,
          'A project file has no such entry.',
          'Give a project file exported by Fair Voicing.',
        );
      seen.add(file.name);
      if (seen.size > limits.entryCount) throw tooLarge();
      if (isWanted(file.name)) take(file);
    });
    unzip.register(UnzipInflate);

    function take(file: UnzipFile): void {
      const chunks: Uint8Array[] = [];
      let size = 0;
      file.ondata = (error, chunk, isLast) => {
        // What is thrown in here comes back as an error of the unpacking.
        if (error) throw error instanceof ProblemError ? error : damaged();
        chunks.push(chunk);
        size += chunk.length;
        total += chunk.length;
        if (size > limits.entryBytes || total > limits.totalBytes) throw tooLarge();
        if (isLast) found.set(file.name, joined(chunks, size));
      };
      file.start();
    }

    try {
      for (let at = 0; at < bytes.length; at += sliceBytes)
        unzip.push(bytes.subarray(at, at + sliceBytes), at + sliceBytes >= bytes.length);
    } catch (error) {
      if (error instanceof ProblemError) throw error;
      throw damaged();
    }
    return found;
  }
  return { read };
}

function joined(chunks: readonly Uint8Array[], size: number): Uint8Array {
  if (chunks.length === 1) return chunks[0];
  const whole = new Uint8Array(size);
  let at = 0;
  for (const chunk of chunks) {
    whole.set(chunk, at);
    at += chunk.length;
  }
  return whole;
}

/**
 * Whether the record is there that ends an archive (APPNOTE 4.3.16); without it the file was cut.
 */
function hasEnd(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const least = Math.max(0, bytes.length - 22 - 65_535);
  for (let at = bytes.length - 22; at >= least; at--)
    if (view.getUint32(at, true) === 0x06054b50) return true;
  return false;
}
