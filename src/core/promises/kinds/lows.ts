import { reachHz } from '@/core/prediction/figures';
import { formatQuantity } from '@/core/units/quantity';
import { noLevel, ofSum, type Derived, type KindFacts, type Measure } from './kind';

const cutOff = (fallDb: number): Measure =>
  ofSum(({ levelDb }, { frequencyHz }) => {
    const value = reachHz(frequencyHz, levelDb, fallDb);
    return value === null ? noLevel : { value, atHz: value };
  });

const asked = (limit: number | null): Derived | null =>
  limit === null
    ? null
    : {
        limit,
        answers: ['low-frequency reach'],
        arithmetic: `Asked for: ${formatQuantity(limit, 'hertz')}.`,
        yields: 'reach',
      };

export const reach3: KindFacts = {
  title: 'Reach −3 dB',
  meaning: 'Frequency at which the lows are 3 dB down',
  unit: 'Hz',
  decimals: 0,
  side: 'atMost',
  usual: 50,
  scale: 40,
  dimension: 'hertz',
  stage: 'network',
  measure: cutOff(3),
  derive: ({ brief }) => asked(brief.reach3Hz),
};

export const reach10: KindFacts = {
  title: 'Reach −10 dB',
  meaning: 'Frequency at which the lows are 10 dB down',
  unit: 'Hz',
  decimals: 0,
  side: 'atMost',
  usual: 35,
  scale: 30,
  dimension: 'hertz',
  stage: 'network',
  measure: cutOff(10),
  derive: ({ brief }) => asked(brief.reach10Hz),
};
