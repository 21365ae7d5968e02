import { decibels } from '@/core/spectrum/level';
import { unwrapped, wrapped } from '@/core/spectrum/phase';
import { finding, hz, type HealthFinding } from './health';
import { endSlope } from './interpolate';
import { minimumPhase } from './minimumPhase';
import type { Samples } from './samples';

/**
 * What looks wrong in an impedance. @param reOhm direct-current resistance of the coil, when known
 */
export function impedanceHealth(samples: Samples, reOhm: number | null): HealthFinding[] {
  const { frequencyHz, magnitude, phaseDeg } = samples;
  const lowest = [...magnitude.keys()].reduce((a, b) => (magnitude[b] < magnitude[a] ? b : a), 0);
  const least = magnitude[lowest];
  const found: HealthFinding[] = [];
  const told = (code: string, where: string, what: string, why: string, mend: string) =>
    found.push(finding(null, code, where, what, why, mend));
  const ratio = reOhm === null ? 1 : least / reOhm;
  if (reOhm !== null && (ratio < 0.67 || ratio > 1.8))
    told(
      'wrong_reference',
      `${least.toFixed(2)} Ω at ${hz(frequencyHz[lowest])}`,
      `The lowest impedance is ${ratio.toFixed(2)} times the coil’s resistance of ${reOhm} Ω.`,
      'The whole curve looks scaled: another reference resistor than the rig was told, or another driver.',
      'Measure a known resistor with the same rig.',
    );
  else if (reOhm !== null && ratio < 0.98)
    told(
      'under_dc_resistance',
      `${least.toFixed(2)} Ω at ${hz(frequencyHz[lowest])}`,
      `The lowest impedance, ${least.toFixed(2)} Ω, is under the coil’s resistance of ${reOhm} Ω.`,
      'Data sheets are off by 5 to 10 %, 5 °C of copper are 2 %; else it is the rig.',
      'Measure the resistance with direct current, and a known resistor with the rig.',
    );
  const lowestOhms = magnitude.reduce((low, ohms) => Math.min(low, ohms), Infinity);
  if (lowestOhms <= 0)
    told(
      'negative_ohms',
      `${lowestOhms.toPrecision(3)} Ω`,
      'An impedance below 0 Ω is no magnitude.',
      'A network solved with it would be wrong everywhere.',
      'Export magnitude and phase; real and imaginary part are something else.',
    );
  else if (least < 0.5 || magnitude.some((ohms) => ohms > 5000))
    told(
      'implausible_ohms',
      `${least.toPrecision(3)} Ω`,
      'These are no ohms of a loudspeaker.',
      'They reach below 0.5 Ω or above 5 kΩ.',
      'Check the unit (kΩ, dB?) and the clips.',
    );
  if (!phaseDeg) {
    told(
      'no_phase',
      'phase',
      'There is no phase.',
      'The impedance counts as resistive.',
      'Export it with phase.',
    );
    return found;
  }
  const rms = phaseContradiction(samples);
  if (rms > 6)
    told(
      'kramers_kronig',
      `${rms.toFixed(0)}° rms`,
      `The phase contradicts the magnitude by ${rms.toFixed(0)}° rms.`,
      'An impedance is minimum-phase: its magnitude alone fixes its phase (Kramers and Kronig).',
      'Check sign and unit of the phase, and the timing of the two channels.',
    );
  return found;
}

/**
 * Difference of the measured phase from the one that belongs to the magnitude, degrees rms over the
 * inner band.
 */
function phaseContradiction({ frequencyHz, magnitude, phaseDeg }: Samples): number {
  const levelDb = magnitude.map(decibels);
  const minimum = minimumPhase(frequencyHz, levelDb, {
    belowDbPerOctave: endSlope(frequencyHz, levelDb, 'below'),
    aboveDbPerOctave: endSlope(frequencyHz, levelDb, 'above'),
  });
  const measured = unwrapped(phaseDeg!.map((angle) => (angle * Math.PI) / 180));
  const [from, to] = [2 * frequencyHz[0], frequencyHz[frequencyHz.length - 1] / 2];
  let [square, count] = [0, 0];
  for (let i = 0; i < frequencyHz.length; i++) {
    if (frequencyHz[i] < from || frequencyHz[i] > to) continue;
    square += ((wrapped(measured[i] - minimum[i]) * 180) / Math.PI) ** 2;
    count++;
  }
  return count === 0 ? 0 : Math.sqrt(square / count);
}
