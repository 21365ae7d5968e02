import { plainStatement, type Measurement } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { spectrumOfImpulse } from '@/core/measurement/evenSpectrum';
import { humBeside } from '@/core/measurement/hum';
import {
  checkedSamples,
  fileFingerprint,
  samplesId,
  type Samples,
} from '@/core/measurement/samples';
import { isWithin, readSweep, sweepShape, type Harmonic } from '@/core/measurement/sweep';
import { problem } from '@/core/problem';
import { cutText } from '@/core/text';
import { angleInName } from './angleName';
import { isWav, readMeasurement, type MeasurementReading } from './readMeasurement';
import { shorten } from './tableLines';
import { longestSamples, readWav } from './wav';

/** A file as it was dropped. */
export interface FileBytes {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** What the document says of a measurement, and all numbers that belong to it, by their ids. */
export interface Imported {
  readonly measurement: Measurement;
  readonly numbers: ReadonlyMap<string, Samples>;
  /**
   * The same with a column as its phase that could be one, though nothing says so; null when there
   * is no such column.
   */
  readonly withPhase: ImportedWithPhase | null;
}

export interface ImportedWithPhase extends Pick<Imported, 'measurement' | 'numbers'> {
  /** Which column it is, as people count, and what is over it. */
  readonly column: number;
  readonly label: string;
}

/**
 * Reads a file into a measurement for the design document and its numbers. The microphone is taken
 * to start from the design axis at 1 m with common timing until the user says otherwise; plane and
 * angle are taken from the file's name.
 *
 * @param file text table, impulse as WAV, Touchstone one-port; with a sweep, a WAV file is taken
 *   for its recording
 * @param importedAt ISO 8601 time
 * @param sweep the sweep that recordings were made with
 * @throws ProblemError naming file and line
 */
export function importedMeasurement(
  { name: fileName, bytes }: FileBytes,
  importedAt: string,
  sweep: FileBytes | null = null,
): Imported {
  const { harmonics, ...reading } =
    sweep && isWav(bytes)
      ? recordingOf(bytes, fileName, sweep)
      : { ...readMeasurement(bytes, fileName), harmonics: [] };
  const stored = harmonics.map(({ order, frequencyHz, levelDb, floorDb }) => {
    const [level, floor] = [levelDb, floorDb].map((magnitude): Samples => ({
      frequencyHz,
      magnitude,
      phaseDeg: null,
    }));
    return { order, level, floor, levelId: samplesId(level), floorId: samplesId(floor) };
  });
  const angle = reading.kind === 'response' ? angleInName(fileName) : null;
  const measurement: Measurement = {
    id: samplesId(reading.samples),
    name:
      cutText(
        fileName
          .replace(/^.*[\\/]/, '')
          .replace(/\.[^.]{1,5}$/, '')
          .trim(),
        80,
      ).trim() || 'measurement',
    kind: reading.kind,
    origin: {
      fileName: cutText(fileName.replace(/^.*[\\/]/, ''), 255),
      fileSha256: fileFingerprint(bytes),
      importedAt,
      rowCount: reading.samples.frequencyHz.length,
      readAs: reading.readAs,
      kindReason: reading.kindReason,
      header: reading.header.slice(0, 8).map(shorten),
      warnings: reading.warnings.slice(0, 20).map((warning) => cutText(warning, 400)),
    },
    microphone: { placement: 'design-axis', distanceMm: 1000, commonTiming: true },
    driveVolts: 2.83,
    ...plainStatement,
    angle: angle && { plane: angle.plane, degrees: angle.degrees },
    harmonics: stored.map(({ order, levelId, floorId }) => ({ order, levelId, floorId })),
  };
  return {
    measurement,
    withPhase: withPossiblePhase(measurement, reading),
    numbers: new Map([
      [measurement.id, reading.samples],
      ...stored.flatMap(({ level, floor, levelId, floorId }) => [
        [levelId, level] as const,
        [floorId, floor] as const,
      ]),
    ]),
  };
}

/** The measurement with the column that could be its phase. */
function withPossiblePhase(
  measurement: Measurement,
  { samples, possiblePhase }: Pick<MeasurementReading, 'samples' | 'possiblePhase'>,
): ImportedWithPhase | null {
  if (!possiblePhase) return null;
  const { column, label, phaseDeg } = possiblePhase;
  const whole = checkedSamples(samples.frequencyHz, samples.magnitude, phaseDeg);
  if (typeof whole === 'string') return null;
  const { origin } = measurement;
  const said = `Column ${column}${label === '' ? '' : `, “${shorten(label)}”,`} was taken for the phase in degrees, as the user said.`;
  return {
    column,
    label,
    measurement: {
      ...measurement,
      id: samplesId(whole),
      origin: {
        ...origin,
        warnings: [...origin.warnings.filter((warning) => !warning.startsWith('No phase')), said],
      },
    },
    numbers: new Map([[samplesId(whole), whole]]),
  };
}

/** Whether a WAV file's name says that it is what was played. */
export const isSweepName = (fileName: string): boolean =>
  /\.wav$/i.test(fileName) && /sweep|excitation|stimulus|reference/i.test(fileName);

const harmonicOrders = [2, 3, 4, 5];

/** Harmonics on the frequencies at which they are known. */
type KnownHarmonic = Harmonic & { readonly frequencyHz: Float64Array };

function recordingOf(
  bytes: Uint8Array,
  fileName: string,
  sweep: FileBytes,
): MeasurementReading & { readonly harmonics: readonly KnownHarmonic[] } {
  const recording = readWav(bytes, fileName);
  const played = readWav(sweep.bytes, sweep.name);
  const { sampleRateHz, channels } = recording;
  if (played.sampleRateHz !== sampleRateHz)
    throw problem(
      'rates_differ',
      fileName,
      `The recording has ${sampleRateHz} Hz, the sweep ${sweep.name} ${played.sampleRateHz} Hz.`,
      'They can be compared sample by sample only.',
      'Convert one of them.',
    );
  if (channels[0].length + played.channels[0].length > longestSamples)
    throw problem(
      'sound_too_long',
      fileName,
      `Recording and sweep have ${(channels[0].length + played.channels[0].length).toLocaleString('en')} samples together.`,
      `Up to ${longestSamples.toLocaleString('en')} are read.`,
      'Cut the recording to the sweep and a second after it.',
    );
  const shape = sweepShape(played.channels[0], sampleRateHz);
  const frequencyHz = logGrid(20, Math.min(20_000, 0.45 * sampleRateHz), 24).filter((hz) =>
    isWithin(shape, hz),
  );
  const { impulse, harmonics } = readSweep(
    channels[0],
    played.channels[0],
    sampleRateHz,
    frequencyHz,
    { orders: harmonicOrders },
  );
  const { samples } = spectrumOfImpulse(impulse);
  const clipped = clippedSamples(channels[0]);
  const hum = humBeside(channels[0], played.channels[0], sampleRateHz);
  const inBand = [...samples.frequencyHz.keys()].filter((k) =>
    isWithin(shape, samples.frequencyHz[k]),
  );
  const pick = (values: Float64Array) => Float64Array.from(inBand, (k) => values[k]);
  const kept = checkedSamples(
    pick(samples.frequencyHz),
    pick(samples.magnitude),
    pick(samples.phaseDeg!),
  );
  if (typeof kept === 'string')
    throw problem(
      'recording_unusable',
      fileName,
      `This recording can’t be used: ${kept}.`,
      '',
      'Record the sweep again.',
    );
  return {
    samples: kept,
    possiblePhase: null,
    kind: 'response',
    kindReason: `it was recorded with the sweep ${shorten(sweep.name)}`,
    readAs: `WAV, ${sampleRateHz / 1000} kHz, recording of a sweep from ${shape.fromHz.toFixed(0)} to ${shape.toHz.toFixed(0)} Hz`,
    header: [],
    warnings: [
      ...(clipped > 0
        ? [
            `Clipped: ${clipped.toLocaleString('en')} samples are at full scale. Record at a lower level.`,
          ]
        : []),
      ...(hum
        ? [
            `Mains hum of ${hum.mainsHz} Hz and its multiples is in the recording, ${Math.round(hum.belowPeakDb)} dB under its peak: most of the sound while the sweep is silent. Look for a ground loop, or keep cables apart; below ${6 * hum.mainsHz} Hz it disturbs the response.`,
          ]
        : []),
      ...(channels.length > 1 ? [`The first of ${channels.length} channels was taken.`] : []),
    ],
    harmonics: harmonics.flatMap((harmonic): KnownHarmonic[] => {
      const known = [...frequencyHz.keys()].filter(
        (i) => Number.isFinite(harmonic.levelDb[i]) && Number.isFinite(harmonic.floorDb[i]),
      );
      if (known.length < 2) return [];
      const of = (values: Float64Array) => Float64Array.from(known, (i) => values[i] + 0);
      return [
        {
          order: harmonic.order,
          frequencyHz: of(frequencyHz),
          levelDb: of(harmonic.levelDb),
          floorDb: of(harmonic.floorDb),
        },
      ];
    }),
  };
}

/**
 * Samples in runs of three or more at the recording's own highest value, when that is near full
 * scale.
 */
function clippedSamples(samples: Float64Array): number {
  let highest = 0;
  for (const value of samples) highest = Math.max(highest, Math.abs(value));
  if (highest < 0.97) return 0;
  let [count, run] = [0, 0];
  for (const value of samples) {
    run = Math.abs(value) >= highest * 0.9999 ? run + 1 : 0;
    if (run === 3) count += 3;
    else if (run > 3) count++;
  }
  return count;
}
