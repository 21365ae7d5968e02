import type { UsableWay } from './inspect';
import { finding, type Finding, type WayPrediction } from './prediction';

/** A way that is everywhere this much under the loudest one is not heard, dB. */
const muteDb = 6;

/** How near a way comes to the loudest one, dB under it, and where; null for silence. */
export function nearestToLoudest(
  own: Float64Array,
  levels: readonly Float64Array[],
  frequencyHz: Float64Array,
): { readonly underDb: number; readonly atHz: number } | null {
  let [underDb, atHz] = [Infinity, 0];
  for (let i = 0; i < own.length; i++) {
    let loudest = -Infinity;
    for (const level of levels) if (level[i] > loudest) loudest = level[i];
    if (loudest - own[i] < underDb) [underDb, atHz] = [loudest - own[i], frequencyHz[i]];
  }
  return Number.isFinite(underDb) ? { underDb, atHz } : null;
}

/** Ways that are nowhere near the loudest one: paid for, and not heard. */
export function muteWays(
  ways: readonly Pick<WayPrediction, 'wayId' | 'levelDb'>[],
  frequencyHz: Float64Array,
): readonly { readonly wayId: string; readonly underDb: number; readonly atHz: number }[] {
  const levels = ways.map(({ levelDb }) => levelDb);
  return ways.flatMap(({ wayId, levelDb }) => {
    const nearest = nearestToLoudest(levelDb, levels, frequencyHz);
    return nearest && nearest.underDb > muteDb ? [{ wayId, ...nearest }] : [];
  });
}

function inspectMute(
  usable: readonly UsableWay[],
  frequencyHz: Float64Array,
  ways: readonly WayPrediction[],
): Finding[] {
  return muteWays(ways, frequencyHz).flatMap(({ wayId, underDb, atHz }) => {
    const own = usable.find(({ way }) => way.id === wayId)!;
    // What points away from the listener is not meant to be heard on the axis.
    if (own.ends.some(({ driver: { aim } }) => Math.abs(aim.yawDeg) > 60)) return [];
    return [
      finding(
        'doubt',
        wayId,
        'way_hardly_heard',
        own.way.name,
        `${own.way.name} is nowhere within ${muteDb} dB of the loudest way.`,
        `It comes nearest at ${Math.round(atHz)} Hz, ${underDb.toFixed(0)} dB under it.`,
        'Let it play where it is meant to, or leave it out.',
      ),
    ];
  });
}

/** Ways that are not heard, and drivers whose data end where they still are. */
export function inspectSum(
  usable: readonly UsableWay[],
  frequencyHz: Float64Array,
  ways: readonly WayPrediction[],
  sumDb: Float64Array,
): Finding[] {
  return [
    ...inspectMute(usable, frequencyHz, ways),
    ...inspectEnds(usable, frequencyHz, ways, sumDb),
  ];
}

function inspectEnds(
  usable: readonly UsableWay[],
  frequencyHz: Float64Array,
  ways: readonly WayPrediction[],
  sumDb: Float64Array,
): Finding[] {
  return usable.flatMap(({ way, ends }, w) => {
    const { levelDb } = ways[w];
    const name = ends.length === 1 ? ends[0].driver.name : way.name;
    const first = levelDb.findIndex(Number.isFinite);
    const last = levelDb.findLastIndex(Number.isFinite);
    const edges = [
      { edge: first, isInside: first > 0, side: 'below' },
      { edge: last, isInside: last >= 0 && last < levelDb.length - 1, side: 'above' },
    ];
    return edges.flatMap(({ edge, isInside, side }) => {
      const under = isInside ? sumDb[edge] - levelDb[edge] : Infinity;
      // 30 dB under the sum changes it by less than 0.3 dB.
      if (under > 30) return [];
      return [
        finding(
          'doubt',
          ends[0].driver.id,
          'data_end_too_early',
          name,
          `${name} has no data ${side} ${Math.round(frequencyHz[edge])} Hz and counts as silent there.`,
          `At that frequency it is ${under.toFixed(0)} dB under the sum, so the sum is incomplete ${side} it.`,
          'Measure it over a wider band.',
        ),
      ];
    });
  });
}
