import type { GradientSolver } from '@/core/network/gradient';

/** The load of the amplifier, of several that of least magnitude at each frequency. */
interface LoadPlayback {
  readonly ohms: Float64Array;
  readonly phaseDeg: Float64Array;
  /** Works it out from what the solver found. */
  evaluate(): void;
  /** Slopes of ln|Z| and of Z's phase in degrees for a factor of e in what some elements share. */
  slopes(elements: readonly number[], lnZ: Float64Array, angle: Float64Array): void;
}

const degreesPerRadian = 180 / Math.PI;

/**
 * @param firstProbe of the amplifiers: each has its terminal voltage and its current, one after the
 *   other
 * @param points of the frequency grid
 */
export function createLoadPlayback(
  solver: GradientSolver,
  firstProbe: number,
  amplifierCount: number,
  points: number,
): LoadPlayback {
  const ohms = new Float64Array(points);
  const phaseDeg = new Float64Array(points);
  /** Number of the voltage probe of the amplifier that has the hardest load. */
  const hardest = new Int32Array(points);
  return {
    ohms,
    phaseDeg,
    evaluate() {
      ohms.fill(Infinity);
      for (let k = 0; k < amplifierCount; k++) {
        const v = firstProbe + 2 * k;
        const [tRe, tIm] = [solver.re[v], solver.im[v]];
        const [iRe, iIm] = [solver.re[v + 1], solver.im[v + 1]];
        for (let i = 0; i < points; i++) {
          const size = iRe[i] ** 2 + iIm[i] ** 2;
          const zRe = -(tRe[i] * iRe[i] + tIm[i] * iIm[i]) / size;
          const zIm = -(tIm[i] * iRe[i] - tRe[i] * iIm[i]) / size;
          const magnitude = Math.sqrt(zRe * zRe + zIm * zIm);
          if (magnitude >= ohms[i]) continue;
          ohms[i] = magnitude;
          phaseDeg[i] = Math.atan2(zIm, zRe) * degreesPerRadian;
          hardest[i] = v;
        }
      }
    },
    slopes(elements, lnZ, angle) {
      lnZ.fill(0);
      angle.fill(0);
      for (let o = firstProbe; o < firstProbe + 2 * amplifierCount; o++)
        for (const e of elements) {
          const [vRe, vIm] = [solver.re[o], solver.im[o]];
          const [dRe, dIm] = [solver.slopeRe[o][e], solver.slopeIm[o][e]];
          const isVoltage = (o - firstProbe) % 2 === 0;
          const sign = isVoltage ? 1 : -1;
          for (let i = 0; i < points; i++) {
            if (o !== hardest[i] && o !== hardest[i] + 1) continue;
            const size = vRe[i] ** 2 + vIm[i] ** 2;
            lnZ[i] += (sign * (dRe[i] * vRe[i] + dIm[i] * vIm[i])) / size;
            angle[i] += (sign * (dIm[i] * vRe[i] - dRe[i] * vIm[i]) * degreesPerRadian) / size;
          }
        }
    },
  };
}
