import type { Brief } from '@/core/document/briefSchema';
import { deviationDb } from '@/core/prediction/figures';
import { formatNumber } from '@/core/units/quantity';
import { noLevel, ofSum, type Derived, type KindFacts } from './kind';

/** ± dB that a purpose asks for when nothing else was said (common practice, no source). */
const deviationFor: Readonly<Record<NonNullable<Brief['purpose']>, number>> = {
  music: 2,
  film: 3,
  desk: 2,
  mixing: 1.5,
  outdoors: 3,
};

/** What the brief asks of the response on the axis. */
export function asked({ evennessDb, purpose }: Brief): Derived | null {
  const limit = evennessDb ?? (purpose === null ? null : deviationFor[purpose]);
  if (limit === null) return null;
  const yields = 'evenness';
  return evennessDb === null
    ? {
        ...{ limit, yields, answers: ['purpose'] },
        arithmetic: `For ${purpose} ±${limit} dB is usual (common practice).`,
      }
    : {
        ...{ limit, yields, answers: ['flatness'] },
        arithmetic: `Asked for: ±${formatNumber(evennessDb)} dB.`,
      };
}

export const onAxis: KindFacts = {
  title: 'On axis',
  meaning: 'Response on axis against the target',
  unit: 'dB',
  decimals: 1,
  side: 'atMost',
  usual: 2,
  scale: 3,
  hasBand: true,
  dimension: 'decibel',
  stage: 'network',
  measure: ofSum(
    ({ levelDb }, { frequencyHz }, { conditions: { target }, band }) =>
      deviationDb(frequencyHz, levelDb, target, band ?? target) ?? noLevel,
  ),
  derive: ({ brief }) => asked(brief),
};
