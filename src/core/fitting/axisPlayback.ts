import type { GradientSolver } from '@/core/network/gradient';
import type { Voice } from './windowPlayback';

/** Slopes on the axis: of the sum in dB, of each way's level in dB and of its phase in degrees. */
export interface AxisSlopes {
  readonly sumDb: Float64Array;
  readonly levels: readonly Float64Array[];
  readonly phases: readonly Float64Array[];
}

/** What each way and all together radiate on the axis, over frequency. */
interface AxisPlayback {
  readonly partRe: readonly Float64Array[];
  readonly partIm: readonly Float64Array[];
  readonly partDb: readonly Float64Array[];
  readonly sumDb: Float64Array;
  /** Works them out from what the solver found. */
  evaluate(): void;
  /** Slopes for a factor of e in what some of the solver's elements share. */
  slopes(elements: readonly number[], out: AxisSlopes): void;
}

const decibelsPerNeper = 20 / Math.LN10;
const degreesPerRadian = 180 / Math.PI;

/**
 * @param voices the drivers that are heard, way by way
 * @param points of the frequency grid
 */
export function createAxisPlayback(
  solver: GradientSolver,
  voices: readonly (readonly Voice[])[],
  points: number,
): AxisPlayback {
  const curves = () => new Float64Array(points);
  const [partRe, partIm, partDb] = [voices.map(curves), voices.map(curves), voices.map(curves)];
  const [sumRe, sumIm, sumDb] = [curves(), curves(), curves()];
  return {
    ...{ partRe, partIm, partDb, sumDb },
    evaluate() {
      sumRe.fill(0);
      sumIm.fill(0);
      voices.forEach((heard, w) => {
        partRe[w].fill(0);
        partIm[w].fill(0);
        for (const { probe, re, im } of heard) {
          const [vRe, vIm] = [solver.re[probe], solver.im[probe]];
          for (let i = 0; i < points; i++) {
            partRe[w][i] += re[i] * vRe[i] - im[i] * vIm[i];
            partIm[w][i] += re[i] * vIm[i] + im[i] * vRe[i];
          }
        }
        for (let i = 0; i < points; i++) {
          const [x, y] = [partRe[w][i], partIm[w][i]];
          partDb[w][i] = 0.5 * decibelsPerNeper * Math.log(x * x + y * y);
          sumRe[i] += x;
          sumIm[i] += y;
        }
      });
      for (let i = 0; i < points; i++)
        sumDb[i] = 0.5 * decibelsPerNeper * Math.log(sumRe[i] ** 2 + sumIm[i] ** 2);
    },
    slopes(elements, { sumDb: slopeDb, levels, phases }) {
      slopeDb.fill(0);
      for (let w = 0; w < voices.length; w++) {
        const phase = phases[w].fill(0);
        const level = levels[w].fill(0);
        for (const { voice, e } of pairsOf(voices[w], elements)) {
          const { re, im, probe } = voice;
          const [dRe, dIm] = [solver.slopeRe[probe][e], solver.slopeIm[probe][e]];
          for (let i = 0; i < points; i++) {
            const x = re[i] * dRe[i] - im[i] * dIm[i];
            const y = re[i] * dIm[i] + im[i] * dRe[i];
            slopeDb[i] += x * sumRe[i] + y * sumIm[i];
            const size = partRe[w][i] ** 2 + partIm[w][i] ** 2 + 1e-300;
            phase[i] += ((y * partRe[w][i] - x * partIm[w][i]) / size) * degreesPerRadian;
            level[i] += ((x * partRe[w][i] + y * partIm[w][i]) / size) * decibelsPerNeper;
          }
        }
      }
      for (let i = 0; i < points; i++)
        slopeDb[i] *= decibelsPerNeper / (sumRe[i] ** 2 + sumIm[i] ** 2);
    },
  };
}

const pairsOf = (heard: readonly Voice[], elements: readonly number[]) =>
  heard.flatMap((voice) => elements.map((e) => ({ voice, e })));
