import { excursionCrestFactor } from '@/core/document/programme';
import type { Design } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { programmeShares } from '@/core/spectrum/programme';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { seatOf, speakerCountOf } from './answers';
import { levelOfExcursionDb, seatGainsDb } from './arithmetic';
import { decibels, term } from './consequence';
import { woofersOf } from './woofers';

/** What the woofers' excursion can make at F3, at the farthest seat, as levels of a sine. */
export interface Bass {
  readonly atHz: number;
  readonly xmaxMm: number;
  /** Woofers of all speakers. */
  readonly coneCount: number;
  readonly possibleDb: number;
  /** Of a programme at the loudness asked for. */
  readonly askedDb: number;
  readonly arithmetic: readonly string[];
}

/** Share of a programme in the third of an octave around a frequency. */
function thirdShare(hz: number): number {
  const grid = logGrid(20, 20_000, 48);
  const shares = programmeShares(grid);
  return grid.reduce(
    (sum, f, i) => sum + (Math.abs(Math.log2(f / hz)) <= 1 / 6 ? shares[i] : 0),
    0,
  );
}

/**
 * Level that the woofers can make within Xmax at F3, against what a programme has there: only the
 * third of an octave around it, not all of its level in one sine. In the lows all woofers, those of
 * the other speakers as well, add as pressure.
 *
 * @returns null while something is not known
 */
export function bassOf(design: Design): Bass | null {
  const { brief, airTemperatureC } = design;
  const seat = seatOf(design, 'farthest');
  const woofers = woofersOf(design);
  const { sdCm2 = null, xmaxMm = null } = woofers.at(0)?.sheet ?? {};
  const { reach3Hz, loudnessDb } = brief;
  if (!seat || sdCm2 === null || xmaxMm === null || reach3Hz === null || loudnessDb === null)
    return null;
  const { distance, room } = seatGainsDb(seat);
  const coneCount = speakerCountOf(brief) * woofers.length;
  const one = levelOfExcursionDb(xmaxMm, reach3Hz, sdCm2, airTemperatureC);
  const together = 20 * Math.log10(coneCount);
  const share = 10 * Math.log10(thirdShare(reach3Hz));
  const peaks = 20 * Math.log10(excursionCrestFactor / Math.SQRT2);
  const askedDb = loudnessDb + share - 3 + peaks;
  return {
    atHz: reach3Hz,
    xmaxMm,
    coneCount,
    possibleDb: one + together + distance + room,
    askedDb,
    arithmetic: [
      `One woofer, half space (a box on the floor; a wall as well gives more): p = ρ·ω²·Sd·x/(2π·r), Sd = ${formatNumber(sdCm2)} cm², ${decibels(one)} at 1 m.`,
      `${coneCount} at low frequencies add as pressure: ${term(together)} dB; distance ${term(distance)}, room ${term(room)}.`,
      `Asked: ${formatFixed(loudnessDb, 1)} ${term(share)} (the third of an octave in the programme) − 3.0 (F3) ${term(peaks)} (peaks of ${excursionCrestFactor} × rms, as a sine) = ${decibels(askedDb)}.`,
    ],
  };
}
