import { impedanceOnGrid, type GridSpectrum } from '@/core/measurement/onGrid';
import type { Samples } from '@/core/measurement/samples';
import { passiveEquivalent, type Section } from './equivalent';
import { terminalImpedance, unloaded } from './model';
import { motorOf, type DriverFigures } from './motor';

/** How far a cone moves for what is at the driver's terminals. */
export interface Motion {
  /**
   * Over the frequencies: excursion over voltage, m/V, both as amplitudes; NaN under what is known.
   */
  readonly metresPerVolt: Float64Array;
  /** What the terminals show, ohms. */
  readonly impedance: GridSpectrum;
  /** Lowest frequency at which the excursion is known; 0 when it is known everywhere. */
  readonly fromHz: number;
  /**
   * Whether the driver was measured, in the box in which it stood then, follows from its figures
   * alone, or was measured and its force factor estimated from its level.
   */
  readonly basis: 'impedance' | 'figures' | 'level';
}

/**
 * Up to where a measured impedance is fitted, over the frequency of its highest peak: the voice
 * coil must show as well.
 */
const fittedTo = 10;
/**
 * Peaks within this factor of the highest are the cone's: two in a vented box; what lies above is
 * break-up.
 */
const cone = 4;
/** Half the usual density is enough for peaks that are an octave wide. */
const pointsPerOctave = 12;

/**
 * Excursion of a driver from its measured impedance and its force factor. The motion of the cone
 * induces the voltage that is left of the terminals' when the blocked coil's is taken away: v =
 * V·Zmot/(Z·Bl), x = v/(jω) (Small 1972). Zmot is that of the resonances in a passive chain fitted
 * to the impedance, so that any box is in it as it was measured, with one peak or two, and only the
 * cone counts, never a port.
 *
 * @param impedance with phase, ohms
 * @param blTm force factor
 * @param basis whether the force factor is stated, or estimated from the driver's level
 * @returns null without phase, or when the data do not hold the resonance
 */
export function motionOfImpedance(
  impedance: Samples,
  blTm: number,
  frequencyHz: Float64Array,
  basis: 'impedance' | 'level' = 'impedance',
): Motion | null {
  const peaks = coneResonances(impedance);
  if (!peaks) return null;
  const z = impedanceOnGrid(impedance, frequencyHz);
  const fromHz = impedance.frequencyHz[0];
  return motion(z, frequencyHz, blTm, fromHz > frequencyHz[0] * 1.001 ? fromHz : 0, basis, {
    at: (omega) => motional(peaks, omega),
  });
}

/**
 * Resonances of the cone in a measured impedance, as a chain of R ∥ L ∥ C.
 *
 * @returns null without phase, or when the data do not hold the resonance
 */
export function coneResonances(impedance: Samples): readonly Peak[] | null {
  const peak = impedance.phaseDeg && resonanceAt(impedance, impedance.phaseDeg);
  if (peak === null) return null;
  const peakHz = impedance.frequencyHz[peak];
  const { sections } = passiveEquivalent(upTo(impedance, fittedTo * peakHz), pointsPerOctave);
  return sections.filter((section): section is Peak => {
    const { ohms, henries, farads } = section;
    if (ohms === null || henries === null || farads === null) return false;
    const hz = 1 / (2 * Math.PI * Math.sqrt(henries * farads));
    return hz > peakHz / cone && hz < peakHz * cone;
  });
}

/**
 * Excursion of a driver from figures alone, without inductance.
 *
 * @param litres closed box in which it works; null for free air, which lets it move farthest
 * @returns null while a figure is missing
 */
export function motionOfFigures(
  figures: DriverFigures,
  litres: number | null,
  frequencyHz: Float64Array,
  temperatureC = 20,
): Motion | null {
  const { fsHz, qes, qms, reOhm } = figures;
  const { blTm, vasLitres } = motorOf(figures, temperatureC);
  if (fsHz === null || qes === null || qms === null || reOhm === null || blTm === null) return null;
  const stiffnessFactor = litres === null || vasLitres === null ? 1 : 1 + vasLitres / litres;
  const model = { reOhm, fsHz, qms, qes, leHenry: 0, ladder: null, semi: null };
  const pair = new Float64Array(2 * frequencyHz.length);
  frequencyHz.forEach((hz, i) =>
    terminalImpedance(model, { ...unloaded, stiffnessFactor }, hz, pair, i),
  );
  const z = {
    re: frequencyHz.map((_, i) => pair[2 * i]),
    im: frequencyHz.map((_, i) => pair[2 * i + 1]),
  };
  return motion(z, frequencyHz, blTm, 0, 'figures', {
    at: (_, i) => Math.hypot(z.re[i] - reOhm, z.im[i]),
  });
}

function motion(
  z: GridSpectrum,
  frequencyHz: Float64Array,
  blTm: number,
  fromHz: number,
  basis: Motion['basis'],
  /** Size of the motional impedance, ohms. */
  motionalOhms: { readonly at: (omega: number, i: number) => number },
): Motion {
  const square = z.re.map((re, i) => re * re + z.im[i] ** 2);
  return {
    metresPerVolt: frequencyHz.map((hz, i) => {
      const omega = 2 * Math.PI * hz;
      return hz < fromHz * 0.999
        ? NaN
        : motionalOhms.at(omega, i) / (Math.sqrt(square[i]) * blTm * omega);
    }),
    impedance: z,
    fromHz,
    basis,
  };
}

export interface Peak extends Section {
  readonly ohms: number;
  readonly henries: number;
  readonly farads: number;
}

/** Size of a chain of R ∥ L ∥ C at one frequency, ohms. */
function motional(peaks: readonly Peak[], omega: number): number {
  let [re, im] = [0, 0];
  for (const { ohms, henries, farads } of peaks) {
    const b = omega * farads - 1 / (omega * henries);
    const square = 1 / ohms ** 2 + b * b;
    re += 1 / ohms / square;
    im -= b / square;
  }
  return Math.hypot(re, im);
}

/** Place of the highest peak at which the phase falls through zero; null when there is none. */
function resonanceAt({ magnitude }: Samples, phaseDeg: Float64Array): number | null {
  let peak = -1;
  let least = Infinity;
  for (let i = 1; i < magnitude.length - 1; i++) {
    least = Math.min(least, magnitude[i]);
    const isCrossing = phaseDeg[i - 1] >= 0 && phaseDeg[i + 1] <= 0;
    if (isCrossing && (peak < 0 || magnitude[i] > magnitude[peak])) peak = i;
  }
  return peak >= 0 && magnitude[peak] > 1.15 * least ? peak : null;
}

function upTo({ frequencyHz, magnitude, phaseDeg }: Samples, hz: number): Samples {
  const end = Math.max(
    8,
    frequencyHz.findLastIndex((one) => one <= hz),
  );
  return {
    frequencyHz: frequencyHz.slice(0, end + 1),
    magnitude: magnitude.slice(0, end + 1),
    phaseDeg: phaseDeg?.slice(0, end + 1) ?? null,
  };
}
