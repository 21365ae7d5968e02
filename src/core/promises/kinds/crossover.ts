import { quadratureOf } from '@/core/document/meantPhase';
import { crossoverLoss } from '@/core/prediction/crossoverLoss';
import { wayTargetError } from '@/core/prediction/wayTarget';
import { ofPrediction, ofSum, type Derived, type KindFacts } from './kind';
import { asked } from './response';

/** Loss of two alike that are 30° from their phase, 20·log(cos 15°), to the safe side. */
const usualLossDb = 0.3;

export const phaseTracking: KindFacts = {
  title: 'Crossover loss',
  meaning:
    'What neighbouring ways lose because their phase strays from what their slopes are meant to make',
  unit: 'dB',
  decimals: 2,
  side: 'atMost',
  usual: usualLossDb,
  scale: 1.5,
  dimension: 'decibel',
  stage: 'network',
  measure: ofSum(
    (_, prediction, { conditions: { quadrature } }) =>
      crossoverLoss(prediction, quadrature) ?? { needs: 'two ways with a crossover' },
  ),
  derive(design) {
    // Whatever else is asked, ways that fight each other are asked by nobody.
    const hasTwo = design.drivers.filter(({ responseId }) => responseId !== null).length > 1;
    const said: Omit<Derived, 'limit' | 'arithmetic'> | null =
      asked(design.brief) ?? (hasTwo ? { answers: [], yields: 'evenness' } : null);
    const apart = quadratureOf(design).map((pair) =>
      pair.map((id) => design.ways.find((way) => way.id === id)!.name).join(' and '),
    );
    return (
      said && {
        ...said,
        limit: usualLossDb,
        arithmetic: [
          'Neighbours that are meant to be in phase lose 0.3 dB when they are 30° from it: 20·log(cos 15°) (common practice). Counts in full where they are equal, and no more where they are 10 dB apart.',
          ...apart.map(
            (names) =>
              `${names} are meant to be 90° apart, as Butterworth slopes of odd order are, and add up flat either way round; the angle off that is told as what it would lose in phase.`,
          ),
        ].join(' '),
      }
    );
  },
};

export const targetSlopes: KindFacts = {
  title: 'Target slopes',
  meaning: 'Largest deviation of a way from the slopes that it is to follow',
  unit: 'dB',
  decimals: 1,
  side: 'atMost',
  usual: 2,
  scale: 3,
  dimension: 'decibel',
  stage: 'network',
  measure: ofPrediction(({ frequencyHz, ways }, { conditions: { target, targets } }) => {
    const errors = targets.flatMap(({ wayId, slopes }) => {
      const way = ways.find((one) => one.wayId === wayId);
      const error = way && wayTargetError(way.levelDb, frequencyHz, slopes, target);
      return error ? [error.within] : [];
    });
    return errors.length === 0
      ? { needs: 'a way with target slopes' }
      : errors.reduce((most, one) => (one.value > most.value ? one : most));
  }),
  derive({ ways }) {
    const aimed = ways.filter(({ target }) => target?.highPass ?? target?.lowPass);
    return aimed.length === 0
      ? null
      : {
          limit: 2,
          answers: ['target slopes'],
          arithmetic: `${aimed.map(({ name }) => name).join(', ')}: within ±2 dB of the target, down to 24 dB under its passband (common practice).`,
          yields: 'evenness',
        };
  },
};
