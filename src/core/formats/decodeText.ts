import { strFromU8 } from 'fflate';
import { problem } from '@/core/problem';
import { cleanText } from '@/core/text';

export type TextEncoding = 'UTF-8' | 'UTF-16' | 'Latin-1';

/** Larger files are refused before anything is done with them. */
const largestTextBytes = 64 * 1024 * 1024;

/** First bytes of file kinds that people drop by mistake. */
const signatures: readonly (readonly [string, string])[] = [
  ['PK\x03\x04', 'a ZIP archive or a spreadsheet'],
  ['%PDF', 'a PDF document'],
  ['\x89PNG', 'a PNG picture'],
  ['\xff\xd8\xff', 'a JPEG picture'],
  ['GIF8', 'a GIF picture'],
  ['RIFF', 'a WAV recording'],
  ['OggS', 'an Ogg recording'],
  ['fLaC', 'a FLAC recording'],
  ['\x1f\x8b', 'a gzip archive'],
  ['\xd0\xcf\x11\xe0', 'an old office document'],
  ['SQLite', 'a database'],
  ['{\\rtf', 'a rich-text document'],
];

/**
 * Text of a file written by any program: UTF-8 or UTF-16 with or without byte-order mark, else
 * Latin-1 (in which every byte means something; the numbers read the same). Control characters and
 * halves of characters, which no store takes, are left out.
 *
 * @throws ProblemError `file_empty`, `file_too_large` or `not_text` with what the file seems to be
 */
export function decodeText(
  bytes: Uint8Array,
  fileName: string,
): { text: string; encoding: TextEncoding } {
  const { text, encoding } = decoded(bytes, fileName);
  return { text: cleanText(text), encoding };
}

function decoded(bytes: Uint8Array, fileName: string): { text: string; encoding: TextEncoding } {
  if (bytes.length === 0)
    throw problem(
      'file_empty',
      fileName,
      'The file is empty.',
      '',
      'Export the measurement again.',
    );
  if (bytes.length > largestTextBytes)
    throw problem(
      'file_too_large',
      fileName,
      `The file has ${Math.round(bytes.length / 2 ** 20)} MiB.`,
      'Text tables up to 64 MiB are read.',
      'Export fewer points.',
    );
  const start = strFromU8(bytes.subarray(0, 8), true);
  const known = signatures.find(([signature]) => start.startsWith(signature));
  if (known) throw notText(fileName, `It looks like ${known[1]}.`);

  if (start.startsWith('\xff\xfe'))
    return { text: decodeUtf16(bytes.subarray(2), 0), encoding: 'UTF-16' };
  if (start.startsWith('\xfe\xff'))
    return { text: decodeUtf16(bytes.subarray(2), 1), encoding: 'UTF-16' };
  const lowByte = utf16WithoutMark(bytes);
  if (lowByte !== null) return { text: decodeUtf16(bytes, lowByte), encoding: 'UTF-16' };
  const unpadded = withoutPadding(bytes);
  if (controlsAtStart(unpadded) > fewControls)
    throw notText(fileName, 'It holds bytes that no text has.');

  const unmarked = start.startsWith('\xef\xbb\xbf') ? unpadded.subarray(3) : unpadded;
  const text = strFromU8(unmarked);
  return text.includes('\uFFFD')
    ? { text: strFromU8(unmarked, true), encoding: 'Latin-1' }
    : { text, encoding: 'UTF-8' };
}

/** A bell or an escape code may stray into a header; a program or a picture is full of them. */
const fewControls = 4;

const controlsAtStart = (bytes: Uint8Array): number =>
  bytes.subarray(0, 4096).filter((byte) => byte < 9 || (byte > 13 && byte < 28)).length;

/** Some programs fill the last block of a file with zeros, or end it as CP/M did. */
function withoutPadding(bytes: Uint8Array): Uint8Array {
  let end = bytes.length;
  while (end > 0 && (bytes[end - 1] === 0 || bytes[end - 1] === 0x1a)) end--;
  return bytes.subarray(0, end);
}

const notText = (fileName: string, why: string) =>
  problem(
    'not_text',
    fileName,
    'This is not a text table.',
    why,
    'Export the measurement as text and give that file.',
  );

/**
 * Place of the low byte (0 or 1) when every other byte of the start is zero, as in UTF-16 digits;
 * else null.
 */
function utf16WithoutMark(bytes: Uint8Array): 0 | 1 | null {
  const pairs = Math.min(bytes.length >> 1, 512);
  if (pairs < 4) return null;
  const zeros = [0, 0];
  for (let i = 0; i < 2 * pairs; i++) if (bytes[i] === 0) zeros[i & 1]++;
  if (zeros[1] > 0.9 * pairs && zeros[0] === 0) return 0;
  if (zeros[0] > 0.9 * pairs && zeros[1] === 0) return 1;
  return null;
}

function decodeUtf16(bytes: Uint8Array, lowByte: 0 | 1): string {
  const chunks: string[] = [];
  const codes: number[] = [];
  for (let i = 0; i + 1 < bytes.length; i += 2) {
    codes.push(bytes[i + lowByte] | (bytes[i + 1 - lowByte] << 8));
    if (codes.length === 8192) chunks.push(String.fromCharCode(...codes.splice(0)));
  }
  return chunks.join('') + String.fromCharCode(...codes);
}
