import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { crossovers } from '@/core/prediction/crossovers';
import type { Prediction } from '@/core/prediction/prediction';
import type { Design } from '@/core/document/schema';
import { formatNumber } from '@/core/units/quantity';
import { hertz, metres, type Consequence } from './consequence';
import { roundedDown } from '@/core/units/rounding';
import { crossingRange, neighbours } from './crossing';

/** How far a head moves between sitting up and leaning back, mm (common practice). */
const headMm = 150;
/** Phase that may go by before a sum of two equal parts loses more than 1.2 dB. */
const tolerableDeg = 60;

/** Where a crossover lies of which nothing is known, Hz (common practice). */
const usualCrossingHz = 2500;

/**
 * The highest crossover by the data sheets: the middle of where the two smallest drivers may hand
 * over.
 */
function placeOfCrossing(design: Design): { readonly hz: number; readonly why: string } {
  const pair = neighbours(design).at(-1);
  const { least, most } = pair ? crossingRange(design, ...pair, 2) : { least: null, most: null };
  if (!least || !most || least.hz > most.hz)
    return {
      hz: usualCrossingHz,
      why: `${hertz(usualCrossingHz)} is usual (common practice); with the data sheets of two drivers it is their own.`,
    };
  const hz = Number(Math.sqrt(least.hz * most.hz).toPrecision(2));
  return { hz, why: `${hertz(hz)} lies in the middle of where their data sheets let them cross.` };
}

/** Centre-to-centre limits for a listener who sits close. */
export function spacingConsequences(design: Design, prediction: Prediction | null): Consequence[] {
  const seatMm = design.brief.nearestSeatMm ?? design.brief.farthestSeatMm;
  if (seatMm === null) return [];
  const c = 1000 * speedOfSoundMps(design.airTemperatureC);
  const pairs = prediction ? crossovers(prediction) : [];
  if (pairs.length === 0) {
    const { hz: atHz, why } = placeOfCrossing(design);
    const lambda = c / atHz;
    const limit = (tolerableDeg / 360) * lambda * (seatMm / headMm);
    return [
      {
        id: 'spacing',
        tone: 'plain',
        text: `From ${metres(seatMm)}, two drivers that cross over at ${hertz(atHz)} should sit within ${formatNumber(roundedDown(Math.min(limit, lambda), 2))} mm of each other.`,
        arithmetic: [
          why,
          `Centre to centre within one wavelength: c/f = ${formatNumber(lambda, 3)} mm (common practice).`,
          `A head that moves by ${headMm} mm changes the paths by d·${headMm}/${formatNumber(seatMm)}; ${tolerableDeg}° at ${hertz(atHz)} allow d = ${formatNumber(limit, 3)} mm.`,
        ],
      },
    ];
  }
  return pairs.flatMap(({ lower, upper, atHz }): Consequence[] => {
    const [a, b] = [lower, upper].map(({ wayId }) => {
      const way = design.ways.find(({ id }) => id === wayId);
      return design.drivers.find(({ id }) => id === way?.ends.at(0)?.driverId);
    });
    if (!a || !b) return [];
    const d = Math.hypot(a.position.xMm - b.position.xMm, a.position.yMm - b.position.yMm);
    if (d === 0) return [];
    const degrees = (360 * atHz * ((d * headMm) / seatMm)) / c;
    const isFine = d <= c / atHz && degrees <= tolerableDeg;
    return [
      {
        id: `spacing-${a.id}-${b.id}`,
        tone: isFine ? 'fine' : 'conflict',
        text: `${a.name} and ${b.name} sit ${formatNumber(d, 3)} mm apart and cross over at ${hertz(atHz)}: ${isFine ? 'close enough' : 'too far apart'} for a seat at ${metres(seatMm)}.`,
        arithmetic: [
          `One wavelength is as long as their distance at ${hertz(c / d)} (common practice: stay below).`,
          `A head that moves by ${headMm} mm changes the path difference by ${formatNumber((d * headMm) / seatMm, 2)} mm, ${formatNumber(degrees, 2)}° at ${hertz(atHz)}; ${tolerableDeg}° cost 1.2 dB.`,
        ],
      },
    ];
  });
}
