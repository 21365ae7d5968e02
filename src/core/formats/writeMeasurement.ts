import { impulseOfSpectrum, isEven } from '@/core/measurement/evenSpectrum';
import { evenFromLog } from '@/core/measurement/resample';
import type { MeasurementKind, Samples } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import { writeTouchstone } from './touchstone';
import { writeWav } from './wav';
import { writeCsv, writeTable } from './writeTable';

/** Forms in which a measurement can be written, by the ending of the file. */
export type MeasurementForm = 'txt' | 'csv' | 'wav' | 's1p';

/**
 * A measurement as a file: a text table, comma-separated values, an impulse response at 48 kHz as
 * WAV (or at the rate that its even frequencies tell), a Touchstone one-port re 50 Ω.
 *
 * @param comment one line about its origin
 * @param where for messages
 * @throws ProblemError `not_convertible`
 */
export function writeMeasurement(
  samples: Samples,
  kind: MeasurementKind,
  form: MeasurementForm,
  comment: string,
  where: string,
): string | Uint8Array {
  const refused = (what: string, why: string) =>
    problem('not_convertible', where, what, why, 'Choose another form, e.g. .txt.');
  switch (form) {
    case 's1p':
      if (kind !== 'impedance')
        throw refused('A response can’t be written as Touchstone.', 'A one-port is an impedance.');
      return writeTouchstone(samples, comment);
    case 'wav': {
      if (kind !== 'response' || !samples.phaseDeg)
        throw refused('This can’t be written as an impulse.', 'It takes a response with phase.');
      const { samples: values, sampleRateHz } = impulseOfSpectrum(
        isEven(samples) ? samples : evenFromLog(samples),
      );
      return writeWav({ sampleRateHz: Math.round(sampleRateHz), channels: [values] });
    }
    case 'csv': {
      const { frequencyHz, magnitude, phaseDeg } = samples;
      return writeCsv([
        ['freq_hz', frequencyHz],
        [kind === 'response' ? 'mag_db' : 'impedance_ohm', magnitude],
        ...(phaseDeg ? [['phase_deg', phaseDeg] as const] : []),
      ]);
    }
    case 'txt':
      return writeTable(samples, kind, comment);
  }
}
