import { sourceLevelDb } from '@/core/prediction/figures';
import type { Prediction, DriverStrain } from '@/core/prediction/prediction';
import { driveVoltsOf } from '@/core/document/programme';
import type { Design, Driver } from '@/core/document/schema';
import type { DesignWithoutParts } from '@/core/document/withoutParts';
import { loadsAt, strainOfFigures, type DriverLoad } from '@/core/prediction/strain';
import { createMemory } from '@/core/prediction/memory';
import { designGridHz } from '@/core/grid/logGrid';
import { seatOf } from './answers';
import { voltsForLevel, type SeatConditions } from './arithmetic';
import { netLitresOf } from './box';
import { sensitivityOf } from './sensitivity';
import { woofersOf } from './woofers';

/** What loads at a loudness depend on, besides the prediction. */
export interface Asked extends Pick<Design, 'amplifier'> {
  readonly drivers: readonly Driver[];
  readonly seat: SeatConditions | null;
  /** Long-term level at the seat. */
  readonly loudnessDb: number | null;
  /** Loads by the data sheets alone: for as long as nothing is predicted. */
  readonly sheetLoads: readonly DriverLoad[];
}

/**
 * Strains of the woofers by their data sheets alone, in a closed box of what the brief's outside
 * size leaves.
 */
function sheetStrains(design: DesignWithoutParts): readonly DriverStrain[] {
  const { amplifier, airTemperatureC, brief } = design;
  const woofers = woofersOf(design);
  const net = netLitresOf(brief);
  const share = net === null ? null : net / woofers.length;
  // Asked for with every nudge of a part, on which they do not depend.
  const key = JSON.stringify([woofers, amplifier, airTemperatureC, share]);
  return rememberSheetStrains('', [key], () => {
    const grid = designGridHz();
    return woofers.flatMap((woofer) => strainOfFigures(design, woofer, share, grid) ?? []);
  });
}

const rememberSheetStrains = createMemory<readonly DriverStrain[]>();

/**
 * Loads of the woofers by their data sheets alone at the loudness asked for; none while something
 * is not known.
 */
export function sheetLoadsAtLoudness(design: DesignWithoutParts): DriverLoad[] {
  const { brief, drivers } = design;
  const seat = seatOf(design, 'farthest');
  if (!seat || brief.loudnessDb === null) return [];
  const sensitivity = sensitivityOf(design, null);
  if (!sensitivity) return [];
  return loadsAt(
    sheetStrains(design),
    drivers,
    voltsForLevel(sensitivity.sourceDb, brief.loudnessDb, seat),
  );
}

/**
 * Loads of the drivers at the loudness asked for: as they were measured, or by their data sheets.
 */
export function loadsAtLoudness(
  prediction: Prediction | null,
  { amplifier, drivers, seat, loudnessDb, sheetLoads }: Asked,
): readonly DriverLoad[] {
  const level = prediction && sourceLevelDb(prediction, amplifier);
  if (!prediction || level === null) return sheetLoads;
  if (!seat || loudnessDb === null) return [];
  return loadsAt(prediction.strains, drivers, voltsForLevel(level, loudnessDb, seat));
}

/**
 * Loads of the drivers with the amplifier driven as the brief says; null while its power is not
 * known.
 */
export function loadsAtDrive(design: Design, prediction: Prediction | null): DriverLoad[] | null {
  const volts = driveVoltsOf(design);
  if (volts === null) return null;
  const measured = prediction?.strains ?? [];
  const strains = measured.length > 0 ? measured : sheetStrains(design);
  return loadsAt(strains, design.drivers, volts);
}
