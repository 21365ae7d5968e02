import { loadsAtLoudness } from '@/core/brief/asked';
import { ratingOf } from '@/core/driver/rating';
import type { DriverStrain, Prediction } from '@/core/prediction/prediction';
import { loadsAt, ratedVolts, type DriverLoad } from '@/core/prediction/strain';
import type { Conditions } from '../promise';

type Counted = (strains: readonly DriverStrain[]) => readonly DriverStrain[];

/**
 * Loads under programme with the amplifier driven as the brief says; while it says nothing, at the
 * voltage of the largest rating among the drivers.
 */
export function loadsUnderProgramme(
  strains: readonly DriverStrain[],
  { drivers, driveVolts }: Conditions,
  counted: Counted = (all) => all,
): DriverLoad[] {
  const ratings = strains.flatMap(({ driverId, lowestOhms }) => {
    const sheet = drivers.find(({ id }) => id === driverId)?.sheet;
    return (sheet && ratingOf(sheet, lowestOhms)) ?? [];
  });
  const volts = driveVolts ?? ratedVolts(ratings);
  return volts > 0 ? loadsAt(counted(strains), drivers, volts) : [];
}

/**
 * Loads at the loudness asked for; while none is asked for, under programme.
 *
 * @param counted drivers that count while no loudness is asked for; by default all
 */
export const loadsAsked = (
  prediction: Prediction | null,
  conditions: Conditions,
  counted?: Counted,
): readonly DriverLoad[] =>
  conditions.loudnessDb !== null
    ? loadsAtLoudness(prediction, conditions)
    : loadsUnderProgramme(prediction?.strains ?? [], conditions, counted);
