import { driveOf, excursionCrestFactor } from '@/core/document/programme';
import { crossingLimitHz, crossingSentences } from '@/core/brief/crossing';
import { isTweeterAt, resonanceNeedsDb } from '@/core/driver/resonance';
import { crossovers } from '@/core/prediction/crossovers';
import type { DriverStrain } from '@/core/prediction/prediction';
import { excessOf, type DriverLoad, type Excess } from '@/core/prediction/strain';
import { loadsAsked, loadsUnderProgramme } from './loads';
import { ofPrediction, type Found, type KindFacts } from './kind';

/**
 * The driver that comes nearest to a limit, as the limit over what it bears; null where no driver
 * has both.
 */
function leastReserve(loads: readonly DriverLoad[], of: keyof Excess): Found | null {
  const excesses = loads.flatMap((load) => {
    const excess = excessOf(load)[of];
    return excess === null
      ? []
      : [{ excess, isEstimated: of !== 'power' && load.basis === 'level' }];
  });
  if (excesses.length === 0) return null;
  const worst = excesses.reduce((most, one) => (one.excess > most.excess ? one : most));
  return {
    value: 1 / worst.excess,
    ...(worst.isEstimated && { basis: 'estimated from level and Sd' }),
  };
}

/** Strains of the drivers that are not there to play the lows, or whose box is known. */
function aboveTheLows(strains: readonly DriverStrain[]): DriverStrain[] {
  const lowestHz = lowestResonanceHz(strains);
  return strains.filter(
    ({ resonance, isBoxed }) =>
      isBoxed || (resonance !== null && resonanceNeedsDb(resonance.hz, lowestHz) !== null),
  );
}

const lowestResonanceHz = (strains: readonly DriverStrain[]): number =>
  Math.min(...strains.flatMap(({ resonance }) => resonance?.hz ?? []));

const unsaid =
  'While the brief does not say what drives it, at the voltage of the largest rating among the drivers.';

export const excursion: KindFacts = {
  title: 'Excursion',
  meaning:
    'Xmax over the peak excursion at the loudness asked for, or at the rated power, of the driver that is nearest to it',
  unit: '×',
  decimals: 2,
  side: 'atLeast',
  usual: 1,
  scale: 1,
  dimension: 'number',
  stage: 'brief',
  measure: (prediction, promise) =>
    leastReserve(loadsAsked(prediction, promise.conditions, aboveTheLows), 'excursion') ?? {
      needs:
        'loudness and seats, or a rated power, and of a driver Xmax and Bl (or Mms, Vas, or Sd with a response of known level) with its impedance',
    },
  derive({ brief, drivers }) {
    if (!drivers.some(({ sheet }) => sheet.xmaxMm !== null)) return null;
    if (brief.loudnessDb === null)
      return {
        limit: 1,
        answers: brief.ratedWatts === null ? [] : ['amplifier', 'programme'],
        arithmetic: `${brief.ratedWatts === null ? unsaid : `With ${driveOf(brief).words}.`} Programme of IEC 60268-1, peaks of excursion ${excursionCrestFactor} times its rms. Of the drivers above the lowest: what that one bears is told once its box is in use, or a loudness is asked for.`,
        yields: null,
      };
    return {
      limit: 1,
      answers: ['loudness', 'seats'],
      arithmetic: `At the loudness asked for, programme of IEC 60268-1, peaks of excursion ${excursionCrestFactor} times its rms. Beyond Xmax a driver distorts.`,
      yields: 'loudness',
    };
  },
};

export const driverPower: KindFacts = {
  title: 'Drivers’ power',
  meaning: 'Rated power over what the programme gives, of the driver that is nearest to it',
  unit: '×',
  decimals: 2,
  side: 'atLeast',
  usual: 1,
  scale: 1,
  dimension: 'number',
  stage: 'network',
  measure: ofPrediction(
    ({ strains }, { conditions }) =>
      leastReserve(loadsUnderProgramme(strains, conditions), 'power') ?? {
        needs: 'the rated power of a driver',
      },
  ),
  derive({ brief, drivers }) {
    if (!drivers.some(({ sheet }) => sheet.ratedWatts !== null)) return null;
    if (brief.ratedWatts === null)
      return { limit: 1, answers: [], arithmetic: unsaid, yields: null };
    return {
      limit: 1,
      answers: ['amplifier', 'programme'],
      arithmetic: `With ${driveOf(brief).words}. The voltage at each driver against the one that its rating means.`,
      yields: null,
    };
  },
};

export const resonance: KindFacts = {
  title: 'Resonances',
  meaning:
    'How far the voltage at a driver’s resonance lies under the highest above it, over what such a driver needs, of the one that is nearest to it',
  unit: 'dB',
  decimals: 1,
  side: 'atLeast',
  usual: 0,
  scale: 12,
  dimension: 'decibel',
  stage: 'network',
  measure: ofPrediction(({ strains }) => {
    const known = strains.flatMap((strain) => strain.resonance ?? []);
    const lowestHz = lowestResonanceHz(strains);
    const reserves = known.flatMap(({ hz, attenuationDb }) => {
      const needs = resonanceNeedsDb(hz, lowestHz);
      return needs === null ? [] : [{ value: attenuationDb - needs, atHz: hz }];
    });
    return reserves.length === 0
      ? { needs: 'a driver above the lowest, with its resonance or an impedance that shows it' }
      : reserves.reduce((least, one) => (one.value < least.value ? one : least));
  }),
  derive: ({ drivers }) =>
    drivers.filter(({ impedanceId }) => impedanceId !== null).length < 2
      ? null
      : {
          limit: 0,
          answers: [],
          arithmetic:
            'A tweeter needs 12 dB at its resonance, a midrange 6 dB (common practice): there it moves most and its impedance spoils the slope. By the data sheet, or estimated from the peak of the impedance.',
          yields: null,
        },
};

export const crossoverPlace: KindFacts = {
  title: 'Crossover height',
  meaning:
    'Octaves by which a crossover lies above where the lower driver beams, or is an octave under breaking up, or the two cancel off axis',
  unit: 'oct',
  decimals: 2,
  side: 'atMost',
  usual: 0,
  scale: 1,
  dimension: 'number',
  stage: 'network',
  measure: ofPrediction((prediction, { conditions: { crossingLimits } }) => {
    const strainOf = (wayId: string) => prediction.strains.find((strain) => strain.wayId === wayId);
    const places = crossovers(prediction).flatMap(({ lower, upper, atHz }) => {
      const most = crossingLimitHz(
        crossingLimits,
        strainOf(lower.wayId)?.driverId,
        strainOf(upper.wayId)?.driverId,
        strainOf(lower.wayId)?.breakUpHz ?? null,
      );
      return most === null ? [] : [{ value: Math.log2(atHz / most), atHz }];
    });
    return places.length === 0
      ? { needs: 'a crossover between drivers that are spaced apart or whose Sd is known' }
      : places.reduce((most, one) => (one.value > most.value ? one : most));
  }),
  derive: (design) =>
    crossingSentences(design).length === 0
      ? null
      : {
          limit: 0,
          answers: design.brief.spreadDeg === null ? [] : ['spread of the seats'],
          arithmetic: [
            ...crossingSentences(design),
            'A driver whose measured response shows its cone breaking up, 4 dB out of the octave around it, is crossed over an octave below (common practice).',
          ].join(' '),
          yields: 'evenness',
        },
};

export const crossoverFloor: KindFacts = {
  title: 'Crossover over fs',
  meaning: 'Octaves from a tweeter’s resonance up to where it is crossed over',
  unit: 'oct',
  decimals: 2,
  side: 'atLeast',
  usual: 1,
  scale: 1,
  dimension: 'number',
  stage: 'network',
  measure: ofPrediction((prediction) => {
    const places = crossovers(prediction).flatMap(({ upper, atHz }) => {
      const resonant = prediction.strains.find(({ wayId }) => wayId === upper.wayId)?.resonance;
      return resonant && isTweeterAt(resonant.hz)
        ? [{ value: Math.log2(atHz / resonant.hz), atHz }]
        : [];
    });
    return places.length === 0
      ? {
          needs: 'a tweeter that is crossed over, with its resonance or an impedance that shows it',
        }
      : places.reduce((least, one) => (one.value < least.value ? one : least));
  }),
  derive: ({ drivers }) =>
    drivers.filter(({ impedanceId }) => impedanceId !== null).length < 2
      ? null
      : {
          limit: 1,
          answers: [],
          arithmetic:
            'A tweeter is left an octave above its resonance (common practice): below, its excursion and distortion grow fourfold with each octave. Allow less where a lower crossover is worth more than that.',
          yields: 'evenness',
        },
};
