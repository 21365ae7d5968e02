import type { Brief } from '@/core/document/briefSchema';
import type { Design } from '@/core/document/schema';
import { deviationDb } from '@/core/prediction/figures';
import { formatNumber } from '@/core/units/quantity';
import { noLevel, ofSum, waitsFor, type Derived, type Found, type KindFacts } from './kind';

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

/** The same where seats stand to the sides of the axis. */
const askedAround = ({ brief }: Design) => (brief.spreadDeg === null ? null : asked(brief));

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

const withBasis = (found: Found, basis: string | null): Found =>
  'needs' in found || basis === null ? found : { ...found, basis };

export const window: KindFacts = {
  title: 'Window',
  meaning: 'Response in the listening window',
  unit: 'dB',
  decimals: 1,
  side: 'atMost',
  usual: 2.5,
  scale: 3,
  hasBand: true,
  dimension: 'decibel',
  stage: 'around',
  measure: ofSum((_, { frequencyHz, window }, { conditions: { target }, band }) =>
    window
      ? withBasis(
          deviationDb(frequencyHz, window.levelDb, target, band ?? target) ?? noLevel,
          window.isModelled ? 'modelled off the axis' : null,
        )
      : { needs: 'off-axis responses of all drivers (Bench)' },
  ),
  derive(design) {
    const said = askedAround(design);
    return (
      said && {
        ...said,
        limit: said.limit + 0.5,
        answers: [...said.answers, 'spread of the seats'],
        arithmetic: `Seats spread ±${formatNumber(design.brief.spreadDeg!)}°, so the window counts: half a decibel more than on axis.`,
      }
    );
  },
};

export const directivity: KindFacts = {
  title: 'Directivity',
  meaning: 'Smoothness of the directivity index',
  unit: 'dB',
  decimals: 1,
  side: 'atMost',
  usual: 1.5,
  scale: 3,
  hasBand: true,
  dimension: 'decibel',
  stage: 'around',
  measure: waitsFor('the directivity index (Around)'),
  derive: (design) =>
    askedAround(design) && {
      limit: 1.5,
      answers: ['spread of the seats'],
      arithmetic:
        'Seats off the axis hear a flat response only where directivity does not jump (common practice).',
      yields: 'evenness',
    },
};
