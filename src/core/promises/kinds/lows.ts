import { cutOffHz } from '@/core/prediction/figures';
import { formatQuantity } from '@/core/units/quantity';
import { noLevel, ofSum, type Derived, type KindFacts, type Measure } from './kind';

const cutOff = (fallDb: number): Measure =>
  ofSum(({ levelDb }, { frequencyHz }) => {
    const value = cutOffHz(frequencyHz, levelDb, fallDb);
    return value === null ? noLevel : { value, atHz: value };
  });

const asked = (limit: number | null): Derived | null =>
  limit === null
    ? null
    : {
        limit,
        answers: ['low-frequency cut-off'],
        arithmetic: `Asked for: ${formatQuantity(limit, 'hertz')}.`,
        yields: 'reach',
      };

export const reach3: KindFacts = {
  title: 'F3',
  meaning: 'Low-frequency cut-off, 3 dB under the sensitivity',
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
  title: 'F10',
  meaning: 'Frequency 10 dB under the sensitivity',
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
