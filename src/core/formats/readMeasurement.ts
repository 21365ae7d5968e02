import { impulseAt, spectrumOfImpulse } from '@/core/measurement/evenSpectrum';
import { checkedSamples } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import { readTable, type TableReading } from './readTable';
import { isTouchstone, readTouchstone } from './touchstone';
import { readWav } from './wav';

/** A measurement as it was read, and how the file was understood. */
export interface MeasurementReading extends Pick<
  TableReading,
  'samples' | 'kind' | 'kindReason' | 'warnings' | 'header' | 'possiblePhase'
> {
  /** Half a sentence: what kind of file it is. */
  readonly readAs: string;
}

const delimiterNames = {
  tab: 'tabs',
  semicolon: 'semicolons',
  comma: 'commas',
  spaces: 'spaces',
} as const;

/** Whether a file begins as a WAV file does. */
export const isWav = (bytes: Uint8Array) =>
  bytes.length >= 4 && String.fromCharCode(...bytes.subarray(0, 4)) === 'RIFF';

/**
 * Reads a file into one measurement: a text table of a response or an impedance, an impulse
 * response as WAV, or a Touchstone one-port.
 *
 * @param bytes the file
 * @param fileName for messages, and for the extension of Touchstone
 * @throws ProblemError naming file and line
 */
export function readMeasurement(bytes: Uint8Array, fileName: string): MeasurementReading {
  if (isWav(bytes)) return readImpulse(bytes, fileName);
  if (isTouchstone(fileName))
    return {
      samples: readTouchstone(bytes, fileName),
      kind: 'impedance',
      kindReason: 'a Touchstone one-port holds one',
      warnings: [],
      header: [],
      possiblePhase: null,
      readAs: 'Touchstone one-port',
    };
  const { samples, kind, kindReason, warnings, header, possiblePhase, ...reading } = readTable(
    bytes,
    fileName,
  );
  const mark = reading.decimalMark === ',' ? 'decimal commas' : 'decimal points';
  return {
    samples,
    kind,
    kindReason,
    warnings,
    header,
    possiblePhase,
    readAs: `${reading.encoding}, ${delimiterNames[reading.delimiter]} between columns, ${mark}`,
  };
}

/**
 * The first channel with sound of a WAV file, taken for an impulse response that begins at time
 * zero.
 */
function readImpulse(bytes: Uint8Array, fileName: string): MeasurementReading {
  const { sampleRateHz, channels } = readWav(bytes, fileName);
  const taken = channels.findIndex((channel) => channel.some((value) => value !== 0));
  if (taken < 0)
    throw problem(
      'silent',
      fileName,
      'There is nothing but silence in this file.',
      '',
      'Record or export it again.',
    );
  const { samples: spectrum, isCut } = spectrumOfImpulse(impulseAt(channels[taken], sampleRateHz));
  const samples = checkedSamples(spectrum.frequencyHz, spectrum.magnitude, spectrum.phaseDeg);
  if (typeof samples === 'string')
    throw problem(
      'impulse_unusable',
      fileName,
      `This impulse can’t be used: ${samples}.`,
      '',
      'Export a longer one, at full scale or below.',
    );
  return {
    possiblePhase: null,
    samples,
    kind: 'response',
    kindReason: 'a WAV file is taken for an impulse response',
    warnings: [
      ...(channels.length > 1 ? [`Channel ${taken + 1} of ${channels.length} was taken.`] : []),
      ...(isCut
        ? ['Only the part around the arrival was kept, with a third of a second after it.']
        : []),
    ],
    header: [],
    readAs: `WAV, ${sampleRateHz / 1000} kHz, impulse response`,
  };
}
