import { meanLevelDb, sensitivityDb, sourceLevelDb } from '@/core/prediction/figures';
import type { Brief } from '@/core/document/briefSchema';
import type { Prediction } from '@/core/prediction/prediction';
import type { Driver } from '@/core/document/schema';
import type { DesignWithoutParts } from '@/core/document/withoutParts';
import { sheetFigures } from '@/core/driver/sheetFigures';
import { logGrid } from '@/core/grid/logGrid';
import { baffleStep } from '@/core/measurement/splice';
import { decibels as toDb } from '@/core/spectrum/level';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { gainAcrossLoadDb, seatGainsDb, type SeatConditions } from './arithmetic';
import { seatOf } from './answers';
import { decibels } from './consequence';
import { woofersOf } from './woofers';

/** Level that a speaker makes at 1 m, and where it comes from. */
export interface Sensitivity {
  /** For 2.83 V at the terminals. */
  readonly db: number;
  /** For 2.83 V at the source behind the amplifier's resistance. */
  readonly sourceDb: number;
  /** How it was found, one line per step. */
  readonly arithmetic: readonly string[];
}

/** Width of a baffle of which nothing is said. */
const usualWidthMm = 250;
/** The lows that a flat response has to match, where no room helps yet. */
const lows = { fromHz: 80, toHz: 200 };
/** Share of the step, in dB, that is left at the place of a speaker (common practice, no source). */
const shareAt: Readonly<Record<NonNullable<Brief['place']>, number>> = {
  free: 1,
  'near-wall': 0.5,
  'on-desk': 0.5,
  'in-cabinet': 0,
};

/**
 * What a level in half space loses on a baffle that does not go on for ever: the lows spread to the
 * back, and a flat response comes down to them. The step of the baffle, 6 dB far below 115 Hz·m
 * over its width (common practice), taken from 80 to 200 Hz; a wall close behind gives half of it
 * back.
 */
export function stepLoss({ widthMm, place }: Brief) {
  const width = widthMm ?? usualWidthMm;
  const grid = logGrid(lows.fromHz, lows.toHz, 24);
  const { re, im } = baffleStep(grid, width);
  const whole = -meanLevelDb(
    grid,
    re.map((x, i) => toDb(Math.hypot(x, im[i]))),
    lows,
  )!;
  const share = shareAt[place ?? 'free'];
  return {
    db: whole * share,
    line: `Baffle step, ${formatNumber(width)} mm wide${widthMm === null ? ' (assumed)' : ''}, ${lows.fromHz} to ${lows.toHz} Hz: ${decibels(whole)}; ${share === 1 ? (place === null ? 'free in the room (assumed), all of it' : 'free in the room, all of it') : share === 0 ? 'in a cabinet or shelf, none of it' : 'close to a surface, half of it'} is lost: ${decibels(whole * share)} (common practice).`,
  };
}

/**
 * Sensitivity that a level at a seat asks for, for 2.83 V across the amplifier's rated load, dB.
 */
export const neededSensitivityDb = (wantedDb: number, seat: SeatConditions): number =>
  wantedDb - gainAcrossLoadDb(seat);

/**
 * Level at 1 m: from the prediction if there is one, else from the woofers' data sheets, less the
 * step of the baffle.
 */
export function sensitivityOf(
  design: DesignWithoutParts,
  prediction: Prediction | null,
): Sensitivity | null {
  const { amplifier } = design;
  const sourceDb = prediction && sourceLevelDb(prediction, amplifier);
  const db = prediction && sensitivityDb(prediction, amplifier);
  if (sourceDb !== null && db !== null) {
    const line = `Sensitivity ${decibels(db)}: mean of the predicted sum, 300 Hz to 3 kHz, 2.83 V at the terminals.`;
    const source = `Behind the amplifier’s resistance and the cable: ${decibels(sourceDb)}.`;
    return {
      db,
      sourceDb,
      arithmetic: Math.abs(sourceDb - db) < 0.05 ? [line] : [line, source],
    };
  }
  return sheetSensitivity(design, woofersOf(design));
}

function sheetSensitivity(
  design: DesignWithoutParts,
  woofers: readonly Driver[],
): Sensitivity | null {
  const [woofer] = woofers;
  const { efficiency, sensitivityDb: halfSpaceDb } = woofer
    ? sheetFigures(woofer.sheet)
    : { efficiency: null, sensitivityDb: null };
  if (efficiency === null || halfSpaceDb === null) return null;
  const count = woofers.length;
  const step = stepLoss(design.brief);
  const more = 20 * Math.log10(count);
  const db = halfSpaceDb + more - step.db;
  const seat = seatOf(design, 'farthest');
  return {
    db,
    sourceDb: db - (seat ? seatGainsDb(seat).source : 0),
    arithmetic: [
      `Data sheet of the ${woofer.name.toLowerCase()}, half space, 2.83 V: η₀ = ${formatNumber(100 * efficiency, 3)} %, ${decibels(halfSpaceDb)}.`,
      ...(count > 1 ? [`${count} of them in parallel: + ${formatFixed(more, 1)} dB.`] : []),
      step.line,
      `Sensitivity ${decibels(db)}.`,
    ],
  };
}
