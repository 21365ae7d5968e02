import { loadsAtLoudness } from '@/core/brief/asked';
import { driveOf, excursionCrestFactor } from '@/core/document/programme';
import { excessOf, loadsAt, type DriverLoad, type Excess } from '@/core/prediction/strain';
import { ofPrediction, type Found, type KindFacts } from './kind';

/**
 * The driver that comes nearest to a limit, as the limit over what it bears; null where no driver
 * has both.
 */
function leastReserve(loads: readonly DriverLoad[], of: keyof Excess): Found | null {
  const excesses = loads.flatMap((load) => excessOf(load)[of] ?? []);
  return excesses.length === 0 ? null : { value: 1 / Math.max(...excesses) };
}

export const excursion: KindFacts = {
  title: 'Excursion',
  meaning:
    'Xmax over the peak excursion at the loudness asked for, of the driver that is nearest to it',
  unit: '×',
  decimals: 2,
  side: 'atLeast',
  usual: 1,
  scale: 1,
  dimension: 'number',
  stage: 'brief',
  measure: (prediction, promise) =>
    leastReserve(loadsAtLoudness(prediction, promise.conditions), 'excursion') ?? {
      needs: 'loudness, seats, and of a driver Xmax and Bl (or Mms, Vas) with its impedance',
    },
  derive({ brief, drivers }) {
    if (brief.loudnessDb === null || !drivers.some(({ sheet }) => sheet.xmaxMm !== null))
      return null;
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
  measure: ofPrediction(({ strains }, { conditions: { driveVolts, drivers } }) => {
    if (driveVolts === null) return { needs: 'the amplifier’s power' };
    return (
      leastReserve(loadsAt(strains, drivers, driveVolts), 'power') ?? {
        needs: 'the rated power of a driver',
      }
    );
  }),
  derive({ brief, drivers }) {
    if (brief.ratedWatts === null || !drivers.some(({ sheet }) => sheet.ratedWatts !== null))
      return null;
    return {
      limit: 1,
      answers: ['amplifier', 'programme'],
      arithmetic: `With ${driveOf(brief).words}. The voltage at each driver against the one that its rating means.`,
      yields: null,
    };
  },
};
