import { leastOhms } from '@/core/brief/arithmetic';
import { impedanceFloor } from '@/core/brief/load';
import { lowestEquivalentOhms, lowestOhms } from '@/core/prediction/figures';
import { formatQuantity } from '@/core/units/quantity';
import { ofPrediction, type Found, type KindFacts } from './kind';

const needsNetwork: Found = { needs: 'a network with drivers' };
const ohm = (value: number) => formatQuantity(value, 'ohm');

/**
 * Output resistance from which on an amplifier has valves or no feedback, and no class-B devices to
 * fear for (common practice).
 */
const classBOhms = 0.5;

/** Rated impedance that is taken while nobody says one. */
const unsaidOhms = 4;

export const lowestImpedance: KindFacts = {
  title: 'Lowest |Z|',
  meaning: 'Smallest impedance at the terminals',
  unit: 'Ω',
  decimals: 1,
  side: 'atLeast',
  usual: 3.2,
  scale: 4,
  dimension: 'ohm',
  stage: 'network',
  measure: ofPrediction((prediction) => lowestOhms(prediction) ?? needsNetwork),
  derive({ brief, drivers }) {
    const { ratedOhms, lowestLoadOhms } = brief;
    const floor = impedanceFloor(brief);
    if (floor === null)
      return drivers.some(({ impedanceId }) => impedanceId !== null)
        ? {
            limit: leastOhms(unsaidOhms),
            answers: [],
            arithmetic: `While the brief says neither a rated impedance nor what the amplifier tolerates: 80 % of ${ohm(unsaidOhms)} (IEC 60268-5), which most amplifiers bear (common practice).`,
            yields: null,
          }
        : null;
    return {
      limit: floor,
      answers: [
        ...(ratedOhms === null ? [] : ['rated impedance']),
        ...(lowestLoadOhms === null ? [] : ['amplifier']),
      ],
      arithmetic: [
        ratedOhms === null
          ? ''
          : `80 % of the rated ${ohm(ratedOhms)} is ${ohm(leastOhms(ratedOhms))} (IEC 60268-5).`,
        lowestLoadOhms === null ? '' : `The amplifier tolerates ${ohm(lowestLoadOhms)}.`,
      ]
        .filter(Boolean)
        .join(' '),
      yields: null,
    };
  },
};

export const equivalentResistance: KindFacts = {
  title: 'Equivalent R',
  meaning: 'Resistor with the same greatest instantaneous stress of a class-B stage',
  unit: 'Ω',
  decimals: 1,
  side: 'atLeast',
  usual: 2,
  scale: 3,
  dimension: 'ohm',
  stage: 'network',
  measure: ofPrediction((prediction) => lowestEquivalentOhms(prediction) ?? needsNetwork),
  derive({ brief: { lowestLoadOhms }, amplifier }) {
    if (lowestLoadOhms === null || amplifier.outputOhms >= classBOhms) return null;
    return {
      limit: lowestLoadOhms / 2,
      answers: ['amplifier'],
      arithmetic: `Half of the lowest load of ${ohm(lowestLoadOhms)} (common practice): a load with phase puts current through a class-B device while much voltage is across it. It does not hold for valves or single-ended stages.`,
      yields: null,
    };
  },
};
