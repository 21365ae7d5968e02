import { formatNumber } from '@/core/units/quantity';
import { loadsAsked } from './loads';
import { waitsFor, type KindFacts } from './kind';

export const cost: KindFacts = {
  title: 'Cost',
  meaning: 'Cost of one speaker',
  unit: '',
  decimals: 0,
  side: 'atMost',
  usual: 300,
  scale: 200,
  dimension: 'number',
  stage: 'parts',
  measure: waitsFor('prices of drivers and cabinet (Parts)'),
  derive({ brief: { money, currency } }) {
    if (money === null) return null;
    return {
      limit: money,
      answers: ['money'],
      arithmetic: `Asked for: ${currency} ${formatNumber(money)} for one speaker.`,
      yields: 'money',
    };
  },
};

export const outsideSize: KindFacts = {
  title: 'Outside',
  meaning: 'Outside volume of the cabinet',
  unit: 'l',
  decimals: 1,
  side: 'atMost',
  usual: 60,
  scale: 40,
  dimension: 'litre',
  stage: 'box',
  measure: (_, { conditions: { outsideLitres } }) =>
    outsideLitres === null ? { needs: 'a box in use (Box)' } : { value: outsideLitres },
  derive({ brief: { widthMm, heightMm, depthMm } }) {
    if (widthMm === null || heightMm === null || depthMm === null) return null;
    const litres = (widthMm * heightMm * depthMm) / 1e6;
    // Rounded up as it is written, so that a box of just this size keeps it.
    const limit = Math.ceil(litres * 10 - 1e-6) / 10;
    const isRounded = limit - litres > 1e-6;
    return {
      limit,
      answers: ['outside size'],
      arithmetic: `${formatNumber(widthMm)} × ${formatNumber(heightMm)} × ${formatNumber(depthMm)} mm are ${formatNumber(litres, 4)} litres${isRounded ? ', rounded up' : ''}.`,
      yields: 'size',
    };
  },
};

export const resistorHeat: KindFacts = {
  title: 'Hottest part',
  meaning: 'Heat in the hottest resistor against its rating',
  unit: 'of the rating',
  decimals: 2,
  side: 'atMost',
  usual: 0.5,
  scale: 0.6,
  dimension: 'number',
  stage: 'parts',
  measure: waitsFor('part ratings (Parts)'),
  derive({ brief }) {
    if (brief.ratedWatts === null) return null;
    return {
      limit: 0.5,
      answers: ['amplifier'],
      arithmetic:
        'A resistor lives long at half its rating (common practice). It is hot then, 100 to 150 °C over the air around it: keep it clear of board, cable and damping.',
      yields: null,
    };
  },
};

export const portSpeed: KindFacts = {
  title: 'Port speed',
  meaning:
    'Peak air speed in the port of the loudest box under programme, at the loudness asked for or at the rated power',
  unit: 'm/s',
  decimals: 0,
  side: 'atMost',
  usual: 17,
  scale: 15,
  dimension: 'number',
  stage: 'box',
  measure: (prediction, { conditions }) => {
    const speeds = loadsAsked(prediction, conditions).flatMap(({ portMps }) => portMps ?? []);
    return speeds.length === 0
      ? { needs: 'a vented box in use (Box), and loudness with seats or a rated power' }
      : { value: Math.max(...speeds) };
  },
  derive: ({ boxes }) =>
    boxes.some(({ isUsed, kind }) => isUsed && kind === 'vented')
      ? {
          limit: 17,
          answers: [],
          arithmetic:
            'Up to about 5 % of the speed of sound a port stays quiet; with well rounded ends somewhat more (common practice).',
          yields: 'loudness',
        }
      : null,
};
