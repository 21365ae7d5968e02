import { problem } from '@/core/problem';

/** Sound as numbers, full scale ±1. */
export interface Sound {
  readonly sampleRateHz: number;
  readonly channels: readonly Float64Array[];
}

/** Bounds the memory of a transform to about 350 MiB. 87 s at 48 kHz. */
export const longestSamples = 2 ** 22;

/**
 * Floating point may go over full scale, but not beyond what any scale in pascals or volts gives.
 */
const largestValue = 1e9;

type Encoding = 'pcm' | 'float';

interface Format {
  readonly encoding: Encoding;
  readonly channelCount: number;
  readonly sampleRateHz: number;
  readonly bytesPerSample: number;
}

/**
 * Reads a RIFF/WAVE file (IBM and Microsoft 1991; extensible format of 2001): linear PCM of 8, 16,
 * 24 or 32 bits, or IEEE floating point of 32 or 64 bits, any number of channels up to eight.
 *
 * @throws ProblemError naming what is wrong
 */
export function readWav(bytes: Uint8Array, fileName: string): Sound {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const bad = (what: string, why: string, mend = 'Export the recording again as a WAV file.') =>
    problem('not_a_wav', fileName, what, why, mend);
  const tag = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 12 || tag(0) !== 'RIFF' || tag(8) !== 'WAVE')
    throw bad('This is not a WAV file.', 'It does not begin with RIFF and WAVE.');
  let format: Format | null = null;
  let at = 12;
  while (at + 8 <= bytes.length) {
    const name = tag(at);
    const size = view.getUint32(at + 4, true);
    const start = at + 8;
    if (name === 'fmt ') {
      if (size < 16 || start + size > bytes.length) throw bad('The format chunk is cut short.', '');
      format = readFormat(view, start, size, bad);
    }
    if (name === 'data') {
      if (!format) throw bad('The samples come before their format.', '');
      // Recorders that were stopped hard leave a size of 0 or of all ones: the rest of the file is
      // sound.
      const isOpen = size === 0 || size === 0xffffffff;
      const end = isOpen ? bytes.length : start + size;
      if (end > bytes.length)
        throw bad(
          'The file is cut short.',
          `It should have ${size.toLocaleString('en')} bytes of sound and has ${(bytes.length - start).toLocaleString('en')}.`,
          'Copy it again.',
        );
      return {
        sampleRateHz: format.sampleRateHz,
        channels: readSamples(view, start, end, format, fileName),
      };
    }
    at = start + size + (size % 2);
  }
  throw bad('There is no sound in this file.', 'It has no data chunk.');
}

function readFormat(
  view: DataView,
  at: number,
  size: number,
  bad: (what: string, why: string) => Error,
): Format {
  let code = view.getUint16(at, true);
  // The extensible format names its encoding in the first two bytes of a GUID.
  if (code === 0xfffe && size >= 26) code = view.getUint16(at + 24, true);
  const channelCount = view.getUint16(at + 2, true);
  const sampleRateHz = view.getUint32(at + 4, true);
  const bits = view.getUint16(at + 14, true);
  const isPcm = code === 1 && [8, 16, 24, 32].includes(bits);
  const isFloat = code === 3 && [32, 64].includes(bits);
  if (!isPcm && !isFloat)
    throw bad(
      `Its encoding is not read (format ${code}, ${bits} bits).`,
      'Linear PCM of 8 to 32 bits and floating point of 32 or 64 bits are.',
    );
  if (channelCount < 1 || channelCount > 8)
    throw bad(`It has ${channelCount} channels.`, 'One to eight are read.');
  if (sampleRateHz < 4000 || sampleRateHz > 768_000)
    throw bad(`Its sample rate is ${sampleRateHz} Hz.`, '4 kHz to 768 kHz are read.');
  return {
    encoding: isPcm ? 'pcm' : 'float',
    channelCount,
    sampleRateHz,
    bytesPerSample: bits / 8,
  };
}

function readSamples(
  view: DataView,
  start: number,
  end: number,
  { encoding, channelCount, bytesPerSample }: Format,
  fileName: string,
): Float64Array[] {
  const frames = Math.floor((end - start) / (bytesPerSample * channelCount));
  if (frames < 2)
    throw problem('not_a_wav', fileName, 'There is no sound in this file.', '', 'Record again.');
  if (frames > longestSamples)
    throw problem(
      'sound_too_long',
      fileName,
      `The recording has ${frames.toLocaleString('en')} samples.`,
      `Up to ${longestSamples.toLocaleString('en')} are read, 87 s at 48 kHz.`,
      'Cut it to the sweep.',
    );
  const read = reader(view, encoding, bytesPerSample);
  return Array.from({ length: channelCount }, (_, c) => {
    const out = new Float64Array(frames);
    for (let i = 0; i < frames; i++) {
      const value = read(start + (i * channelCount + c) * bytesPerSample);
      if (!(Math.abs(value) <= largestValue))
        throw problem(
          'sound_not_finite',
          `${fileName}, sample ${i + 1}`,
          Number.isFinite(value)
            ? `This sample is ${value.toExponential(1)} times full scale.`
            : 'This sample is not a number.',
          '',
          'Export the recording again.',
        );
      out[i] = value;
    }
    return out;
  });
}

function reader(view: DataView, encoding: Encoding, bytes: number): (at: number) => number {
  if (encoding === 'float')
    return bytes === 4 ? (at) => view.getFloat32(at, true) : (at) => view.getFloat64(at, true);
  switch (bytes) {
    case 1:
      return (at) => (view.getUint8(at) - 128) / 128;
    case 2:
      return (at) => view.getInt16(at, true) / 2 ** 15;
    case 3:
      return (at) => (view.getUint16(at, true) | (view.getInt8(at + 2) << 16)) / 2 ** 23;
    default:
      return (at) => view.getInt32(at, true) / 2 ** 31;
  }
}

/** A WAV file in 32-bit floating point; values beyond full scale are kept. */
export function writeWav({ sampleRateHz, channels }: Sound): Uint8Array {
  const frames = channels[0].length;
  const bytesPerFrame = 4 * channels.length;
  const size = frames * bytesPerFrame;
  const view = new DataView(new ArrayBuffer(44 + size));
  const put = (at: number, text: string) =>
    [...text].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)));
  put(0, 'RIFF');
  view.setUint32(4, 36 + size, true);
  put(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 3, true);
  view.setUint16(22, channels.length, true);
  view.setUint32(24, sampleRateHz, true);
  view.setUint32(28, sampleRateHz * bytesPerFrame, true);
  view.setUint16(32, bytesPerFrame, true);
  view.setUint16(34, 32, true);
  put(36, 'data');
  view.setUint32(40, size, true);
  channels.forEach((channel, c) =>
    channel.forEach((value, i) => view.setFloat32(44 + i * bytesPerFrame + 4 * c, value, true)),
  );
  return new Uint8Array(view.buffer);
}
