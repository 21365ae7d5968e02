import { logGrid } from '@/core/grid/logGrid';
import { decibels } from '@/core/spectrum/level';
import type { DriverFigures } from './motor';
import { sheetFigures } from './sheetFigures';

/** Figures from which curves can be computed. */
interface CurveFigures extends DriverFigures {
  /** Inductance of the voice coil, mH; null counts as none. */
  readonly leMh: number | null;
}

const grid = () => logGrid(10, 20_000, 24);

/** A sample of a driver computed from figures. */
export interface ComputedCurve {
  readonly frequencyHz: Float64Array;
  /** Level for 2.83 V at 1 m in half space, dB; or magnitude, Ω. */
  readonly magnitude: Float64Array;
  readonly phaseDeg: Float64Array;
}

/**
 * Impedance by the equivalent circuit (Small, J. Audio Eng. Soc. 20, 1972): Re, the coil, and
 * Re·Qms/Qes at resonance.
 *
 * @returns null while a figure is missing
 */
export function sheetImpedance({
  fsHz,
  qes,
  qms,
  reOhm,
  leMh,
}: CurveFigures): ComputedCurve | null {
  if (fsHz === null || qes === null || qms === null || reOhm === null) return null;
  const frequencyHz = grid();
  const peak = (reOhm * qms) / qes;
  const [re, im] = [new Float64Array(frequencyHz.length), new Float64Array(frequencyHz.length)];
  frequencyHz.forEach((hz, i) => {
    const detuning = qms * (hz / fsHz - fsHz / hz);
    const size = 1 + detuning * detuning;
    re[i] = reOhm + peak / size;
    im[i] = (2 * Math.PI * hz * (leMh ?? 0)) / 1000 - (peak * detuning) / size;
  });
  return {
    frequencyHz,
    magnitude: re.map((value, i) => Math.hypot(value, im[i])),
    phaseDeg: re.map((value, i) => (Math.atan2(im[i], value) * 180) / Math.PI),
  };
}

/**
 * Response in a wall: a second-order high pass of Qts at the sensitivity that follows from the
 * figures, falling with the coil. Break-up and a cone’s own roll-off are not in it.
 *
 * @returns null while a figure is missing
 */
export function sheetResponse(figures: CurveFigures, temperatureC = 20): ComputedCurve | null {
  const { fsHz, reOhm, leMh } = figures;
  const { qts, sensitivityDb } = sheetFigures(figures, temperatureC);
  if (fsHz === null || reOhm === null || qts === null || sensitivityDb === null) return null;
  const frequencyHz = grid();
  const phaseDeg = new Float64Array(frequencyHz.length);
  const magnitude = frequencyHz.map((hz, i) => {
    const x = hz / fsHz;
    // −x²/(1 − x² + jx/Qts), over 1 + jωLe/Re.
    const [a, b] = [1 - x * x, x / qts];
    const coil = (2 * Math.PI * hz * (leMh ?? 0)) / 1000 / reOhm;
    phaseDeg[i] = ((Math.PI - Math.atan2(b, a) - Math.atan(coil)) * 180) / Math.PI;
    return sensitivityDb + decibels((x * x) / Math.hypot(a, b) / Math.hypot(1, coil));
  });
  return { frequencyHz, magnitude, phaseDeg };
}
