import type { Design } from '@/core/document/schema';
import { kinds, limitText } from './kinds/kinds';
import { promisesOf } from './promisesOf';
import { hertz, metres, watts, type Consequence } from '@/core/brief/consequence';

/** Answers that can't be true together, and promises that no speaker keeps together. */
export function answersAgainst(design: Design): Consequence[] {
  const { reach3Hz, reach10Hz, nearestSeatMm, farthestSeatMm } = design.brief;
  const { ratedWatts, ratedOhms, lowestLoadOhms } = design.brief;
  const found: Consequence[] = [];
  const tell = (id: string, text: string, arithmetic: readonly string[] = []) =>
    found.push({ id, tone: 'conflict', text, arithmetic: [...arithmetic] });
  if (reach3Hz !== null && reach10Hz !== null && reach10Hz >= reach3Hz)
    tell(
      'reach-order',
      `F10 at ${hertz(reach10Hz)} is asked above F3 at ${hertz(reach3Hz)}: a response falls by 3 dB before it has fallen by 10.`,
      ['Exchange the two, or lower F10: half an octave to an octave under F3 is usual.'],
    );
  if (nearestSeatMm !== null && farthestSeatMm !== null && nearestSeatMm > farthestSeatMm)
    tell(
      'seat-order',
      `The nearest seat, at ${metres(nearestSeatMm)}, is farther than the farthest, at ${metres(farthestSeatMm)}.`,
      ['Exchange the two.'],
    );
  if (lowestLoadOhms !== null && ratedOhms !== null && lowestLoadOhms > ratedOhms)
    tell(
      'load-order',
      `An amplifier that gives ${ratedWatts === null ? 'its power' : watts(ratedWatts)} into ${ratedOhms} Ω bears ${ratedOhms} Ω; that it bears no less than ${lowestLoadOhms} Ω contradicts it.`,
      ['Look both up in its manual: the least load is the rated one or lower.'],
    );
  const promises = promisesOf(design);
  for (const [i, one] of promises.entries())
    for (const other of promises.slice(i)) {
      if (one.kind !== other.kind) continue;
      const isSameMatter =
        JSON.stringify([one.band, one.angle]) === JSON.stringify([other.band, other.angle]);
      const least = Math.max(one.atLeast ?? -Infinity, other.atLeast ?? -Infinity);
      const most = Math.min(one.atMost ?? Infinity, other.atMost ?? Infinity);
      if (!isSameMatter || least <= most) continue;
      tell(
        `promise-${one.id}-${other.id}`,
        `${kinds[one.kind].title}: ${[...new Set([limitText(one), limitText(other)])].join(' and ')} can’t be kept together.`,
      );
    }
  return found;
}
