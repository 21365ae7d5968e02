import { formatNumber } from '@/core/units/quantity';
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
  measure: waitsFor('a cabinet (Box)'),
  derive({ brief: { widthMm, heightMm, depthMm } }) {
    if (widthMm === null || heightMm === null || depthMm === null) return null;
    const litres = (widthMm * heightMm * depthMm) / 1e6;
    return {
      limit: litres,
      answers: ['outside size'],
      arithmetic: `${formatNumber(widthMm)} × ${formatNumber(heightMm)} × ${formatNumber(depthMm)} mm are ${formatNumber(litres, 3)} litres.`,
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
  meaning: 'Peak air speed in the port',
  unit: 'm/s',
  decimals: 0,
  side: 'atMost',
  usual: 17,
  scale: 15,
  dimension: 'number',
  stage: 'box',
  measure: waitsFor('a vented box (Box)'),
};
