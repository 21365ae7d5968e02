import { centreOf, crossingIndex, overlapDb } from '@/core/prediction/figures';
import { meantDeg } from '@/core/document/meantPhase';
import type { Goal } from '@/core/fitting/goal';
import type { Playback } from '@/core/fitting/playback';
import { type Term, limitFactor, degreesPerDb } from './term';

/** Phase between neighbours around where one hands over to the other. */
export function trackingTerm(
  { weight, mostDeg, quadrature }: NonNullable<Goal['tracking']>,
  wayIds: readonly string[],
  frequencyHz: Float64Array,
): Term {
  const wayCount = wayIds.length;
  const points = frequencyHz.length;
  const pairs = Math.max(0, wayCount - 1);
  const most = (weight * Math.sqrt(1 / points) * limitFactor) / degreesPerDb / 2;
  /** Factor of each residual on the phase difference in degrees; 0 where it does not count. */
  const factors = new Float64Array(pairs * points);
  const order = Array.from({ length: wayCount }, (_, w) => w);

  /** Neighbours by the middle of the band in which each is loudest, and what their phase counts. */
  function weigh({ partDb }: Playback): void {
    factors.fill(0);
    const centres = partDb.map(centreOf);
    order.sort((a, b) => centres[a] - centres[b]);
    for (let k = 0; k < pairs; k++) {
      const [low, high] = [partDb[order[k]], partDb[order[k + 1]]];
      const cross = crossingIndex(low, high);
      if (cross < 0) continue;
      for (let i = 0; i < points; i++) {
        const apart = Math.abs(low[i] - high[i]);
        const octaves = Math.abs(Math.log2(frequencyHz[i] / frequencyHz[cross]));
        if (octaves <= 0.5 && apart < overlapDb)
          factors[k * points + i] = most * (1 - apart / overlapDb);
      }
    }
  }

  /** Phase of the lower over the upper neighbour, degrees, −180…180. */
  function between({ partRe, partIm }: Playback, k: number, i: number): number {
    const [a, b] = [order[k], order[k + 1]];
    const re = partRe[a][i] * partRe[b][i] + partIm[a][i] * partIm[b][i];
    const im = partIm[a][i] * partRe[b][i] - partRe[a][i] * partIm[b][i];
    return (Math.atan2(im, re) * 180) / Math.PI;
  }

  /** What the slopes of a pair are meant to make. */
  const meant = (k: number) => meantDeg(quadrature, wayIds[order[k]], wayIds[order[k + 1]]);

  return {
    rows: pairs * points,
    residuals({ playback }, _, out, row) {
      weigh(playback);
      for (let k = 0; k < pairs; k++)
        for (let i = 0; i < points; i++) {
          const factor = factors[k * points + i];
          const off = factor === 0 ? 0 : Math.abs(between(playback, k, i)) - meant(k);
          const over = Math.abs(off) - mostDeg;
          out[row + k * points + i] = over > 0 ? factor * over : 0;
        }
    },
    derivatives({ playback }, _, { variable, axis: { phases } }, column, row) {
      // The weights belong to the values, not to the variable.
      if (variable === 0) weigh(playback);
      for (let k = 0; k < pairs; k++)
        for (let i = 0; i < points; i++) {
          const factor = factors[k * points + i];
          if (factor === 0) continue;
          const now = between(playback, k, i);
          const off = Math.abs(now) - meant(k);
          if (Math.abs(off) > mostDeg)
            column[row + k * points + i] =
              factor *
              Math.sign(off) *
              Math.sign(now) *
              (phases[order[k]][i] - phases[order[k + 1]][i]);
        }
    },
  };
}
