import { driversInBox, leastXmaxMm } from '@/core/cabinet/driversInBox';
import { cleanLevel, type BoxLimits, type CleanLevel } from '@/core/box/cleanLevel';
import { mechanicsOf, type BoxSystem } from '@/core/box/enclosure';
import { boxCurves, type BoxCurves } from '@/core/box/response';
import { behindResistance } from '@/core/box/source';
import { quietMps } from '@/core/cabinet/vent';
import type { Box } from '@/core/document/boxSchema';
import { excursionCrestFactor } from '@/core/document/programme';
import type { Driver } from '@/core/document/schema';
import { designGridHz } from '@/core/grid/logGrid';
import { nearestIndex } from '@/core/grid/nearest';
import { fallsUnderHz, type Band } from '@/core/prediction/figures';
import { unwrapped } from '@/core/spectrum/phase';
import { programmeShares } from '@/core/spectrum/programme';
import type { LowsSetting } from './setting';

/** Curves of a box alone, over the setting's frequencies. */
export interface LowsCurves extends BoxCurves {
  readonly groupDelayMs: Float64Array;
  /** Greatest level of a sine within all limits, at 1 m in half space. */
  readonly clean: CleanLevel;
  /** Peak force on the box for the source's volts, N: what moves the cone pushes the frame back. */
  readonly forceN: Float64Array;
}

/** What a box does, in figures; null where it is not known or not there. */
export interface LowsFigures {
  readonly f3Hz: number | null;
  readonly f10Hz: number | null;
  /** Highest level below the plateau against what it is there, dB. */
  readonly humpDb: number;
  /** Greatest from F3 up. */
  readonly groupDelayMs: number;
  /** Peak under programme as the brief asks. */
  readonly excursionMm: number | null;
  readonly portMps: number | null;
  /** Least of the clean levels from F3 to an octave above, dB at 1 m; null of a box that does not play there. */
  readonly cleanF3Db: number | null;
}

/** Group delay −dφ/dω over three points. */
export function groupDelaysMs(frequencyHz: Float64Array, phaseDeg: Float64Array): Float64Array {
  const phase = unwrapped(phaseDeg.map((deg) => (deg * Math.PI) / 180));
  const last = frequencyHz.length - 1;
  return frequencyHz.map((_, i) => {
    const [a, b] = [Math.max(0, i - 1), Math.min(last, i + 1)];
    return (-1000 * (phase[b] - phase[a])) / (2 * Math.PI * (frequencyHz[b] - frequencyHz[a]));
  });
}

/** Limits of a driver and its port, as drivers that share a box have them. */
export const limitsOf = (
  box: Box,
  drivers: readonly Driver[],
  { timesRated, frequencyHz }: LowsSetting,
): BoxLimits => {
  const own = driversInBox(box, drivers);
  const watts = own.flatMap(({ sheet }) => sheet.ratedWatts ?? []);
  const hasAir = box.kind === 'vented' || box.kind === 'line';
  // A passive cone is limited by its excursion, which its speed tells.
  const passiveMps =
    box.kind === 'passive-radiator'
      ? frequencyHz.map((hz) => (2 * Math.PI * hz * box.passive.xmaxMm) / 1000)
      : null;
  return {
    excursionMm: leastXmaxMm(box, drivers),
    openingSpeed: hasAir ? quietMps(box.port) : passiveMps,
    watts: watts.length === 0 ? null : watts.reduce((sum, one) => sum + one, 0),
    timesVolts: timesRated,
  };
};

/** All curves of a box with what drives it. */
export function lowsCurves(
  box: Box,
  system: BoxSystem,
  drivers: readonly Driver[],
  setting: LowsSetting,
): LowsCurves {
  const { frequencyHz, source } = setting;
  const curves = boxCurves(system, source, frequencyHz);
  const { massKg } = mechanicsOf(system.driver, system.air);
  const limits = limitsOf(box, drivers, setting);
  const clean = cleanLevel(curves, limits);
  return {
    ...curves,
    clean,
    groupDelayMs: groupDelaysMs(frequencyHz, curves.phaseDeg),
    forceN: frequencyHz.map(
      (hz, i) => (massKg * (2 * Math.PI * hz) ** 2 * curves.excursionMm[i]) / 1000,
    ),
  };
}

/** Band in which a box is taken to be level with what is above it, Hz. */
const usualPlateau: Band = { fromHz: 150, toHz: 300 };

/**
 * Band in which a box alone is level: three to six times its resonance, where a closed one is within
 * 0.3 dB of it, and for woofers as usual.
 */
export function plateauOf({ driver: { fsHz, vasM3 }, enclosure }: BoxSystem): Band {
  const stretch = 'volumeM3' in enclosure ? Math.sqrt(1 + vasM3 / enclosure.volumeM3) : 1;
  const fromHz = Math.min(Math.max(usualPlateau.fromHz, 3 * fsHz * stretch), mostPlateauHz);
  return { fromHz, toHz: Math.min(2 * fromHz, lowsEndHz) };
}

/** Where the grid of the lows ends, and a plateau begins at the latest. */
const lowsEndHz = 1000;
const mostPlateauHz = 800;

/** Mean level over the plateau, dB: from where a box alone is looked at. */
export function plateauDb(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  plateau = usualPlateau,
): number {
  let [sum, count] = [0, 0];
  for (let i = 0; i < frequencyHz.length; i++)
    if (frequencyHz[i] >= plateau.fromHz && frequencyHz[i] <= plateau.toHz) {
      sum += levelDb[i];
      count++;
    }
  return sum / count;
}

const knownShares = new WeakMap<Float64Array, Float64Array>();

/**
 * Share of the whole programme in each point of a grid: on that of a prediction they add up to 1, on
 * one of the lows alone to what is in the lows. Below 20 Hz there is none.
 */
function sharesOn(frequencyHz: Float64Array): Float64Array {
  const known = knownShares.get(frequencyHz);
  if (known) return known;
  const whole = designGridHz();
  const shares = programmeShares(whole);
  const step = Math.log(frequencyHz[1] / frequencyHz[0]) / Math.log(whole[1] / whole[0]);
  const own = frequencyHz.map((hz) => (hz < whole[0] ? 0 : step * shares[nearestIndex(whole, hz)]));
  knownShares.set(frequencyHz, own);
  return own;
}

/** Peak under programme of something that is told as the peak of a sine at 1 × the source's volts. */
export function programmePeak(
  frequencyHz: Float64Array,
  sinePeak: Float64Array,
  timesVolts: number,
): number {
  const shares = sharesOn(frequencyHz);
  let square = 0;
  for (let i = 0; i < frequencyHz.length; i++) square += (shares[i] * sinePeak[i] ** 2) / 2;
  return excursionCrestFactor * Math.sqrt(square) * timesVolts;
}

/** A box that is so far under the level at F3, dB, leaves the lows to another. */
const notOfTheLowsDb = 10;

/**
 * Least of clean levels from F3 to an octave above, dB at 1 m; null without an F3, and for a box that
 * does not play there.
 *
 * @param ownDb level of the box alone
 * @param levelDb level in which F3 was found: the design's sum, or the box alone
 */
export function cleanFromF3(
  frequencyHz: Float64Array,
  { db }: CleanLevel,
  f3Hz: number | null,
  ownDb: Float64Array,
  levelDb: Float64Array,
): number | null {
  if (f3Hz === null) return null;
  const at = nearestIndex(frequencyHz, f3Hz);
  if (ownDb[at] < levelDb[at] - notOfTheLowsDb) return null;
  let least = Infinity;
  for (let i = 0; i < frequencyHz.length; i++)
    if (frequencyHz[i] >= f3Hz && frequencyHz[i] <= 2 * f3Hz) least = Math.min(least, db[i]);
  return Number.isFinite(least) ? least : null;
}

/** Less than this a level may lack, dB: both are told in whole ones. */
const levelToleranceDb = 0.5;

/** Whether a clean level stays under what is asked for; false while one of them is not known. */
export const isShortOfLevel = (cleanDb: number | null, wantedDb: number | null): boolean =>
  cleanDb !== null && wantedDb !== null && cleanDb < wantedDb - levelToleranceDb;

/** How a level falls, and what it costs in time. */
export type LowsShape = Pick<LowsFigures, 'f3Hz' | 'f10Hz' | 'humpDb' | 'groupDelayMs'>;

/**
 * Cut-offs, hump and group delay of a level.
 *
 * @param referenceDb from which cut-offs are told; null for the level's own plateau
 * @param fromHz below which they are looked for
 */
export function lowsShape(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  delaysMs: Float64Array,
  referenceDb: number | null,
  fromHz: number,
  plateau = usualPlateau,
): LowsShape {
  const level = plateauDb(frequencyHz, levelDb, plateau);
  const from = referenceDb ?? level;
  const f3Hz = fallsUnderHz(frequencyHz, levelDb, from - 3, fromHz);
  let [humpDb, groupDelayMs] = [0, 0];
  for (let i = 0; i < frequencyHz.length; i++) {
    if (frequencyHz[i] < plateau.fromHz) humpDb = Math.max(humpDb, levelDb[i] - level);
    if (f3Hz !== null && frequencyHz[i] >= f3Hz) groupDelayMs = Math.max(groupDelayMs, delaysMs[i]);
  }
  return {
    ...{ f3Hz, humpDb, groupDelayMs },
    f10Hz: fallsUnderHz(frequencyHz, levelDb, from - 10, fromHz),
  };
}

/** The same of a box alone, from its own plateau. */
export const aloneShape = (
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  delaysMs: Float64Array,
  band: Band,
): LowsShape => lowsShape(frequencyHz, levelDb, delaysMs, null, band.fromHz, band);

/**
 * Figures of a box.
 *
 * @param levelDb in which cut-offs are looked for: the design's sum with this box, or the box alone
 * @param referenceDb from which they are told
 * @param fromHz below which they are looked for
 */
export function lowsFigures(
  box: Box,
  curves: Pick<BoxCurves, 'levelDb' | 'excursionMm' | 'openingSpeed'> & {
    readonly groupDelayMs: Float64Array;
    readonly clean?: CleanLevel;
  },
  setting: LowsSetting,
  levelDb: Float64Array,
  referenceDb: number,
  fromHz: number,
  plateau = usualPlateau,
): LowsFigures {
  const { frequencyHz, timesProgramme } = setting;
  const shape = lowsShape(
    ...([frequencyHz, levelDb, curves.groupDelayMs, referenceDb, fromHz, plateau] as const),
  );
  const { f3Hz } = shape;
  const hasPort = box.kind === 'vented' || box.kind === 'line';
  return {
    ...shape,
    excursionMm:
      timesProgramme === null
        ? null
        : programmePeak(frequencyHz, curves.excursionMm, timesProgramme),
    portMps:
      timesProgramme === null || !hasPort
        ? null
        : programmePeak(frequencyHz, curves.openingSpeed, timesProgramme),
    cleanF3Db: curves.clean
      ? cleanFromF3(frequencyHz, curves.clean, f3Hz, curves.levelDb, levelDb)
      : null,
  };
}

/** Times at which a step is told, ms. */
export const stepTimesMs = Float64Array.from({ length: 161 }, (_, k) => k / 2);

/** Spacing and end of the spectrum that a step is made of, Hz, and where it begins to fade. */
const stepGrid = { byHz: 4, toHz: 2000, fadesFromHz: 700 };
const stepHz = Float64Array.from(
  { length: stepGrid.toHz / stepGrid.byHz },
  (_, k) => stepGrid.byHz * (k + 1),
);

/**
 * Response to a step of voltage at {@link stepTimesMs}, as a share of its highest value: of a causal
 * system s(t) = (2/π)∫ Re H(ω)·sin(ωt)/ω dω. What is above the lows is faded out.
 *
 * @param seriesOhms before the driver: a step is looked at through it alone, without a network
 */
export function stepOf(system: BoxSystem, seriesOhms: number): Float64Array {
  const source = behindResistance(1, seriesOhms, stepHz.length);
  const { levelDb, phaseDeg } = boxCurves(system, source, stepHz);
  const { byHz, toHz, fadesFromHz } = stepGrid;
  const real = stepHz.map((hz, i) => {
    const t = Math.max(0, (hz - fadesFromHz) / (toHz - fadesFromHz));
    const fade = 0.5 + 0.5 * Math.cos(Math.PI * t);
    return fade * 10 ** (levelDb[i] / 20) * Math.cos((phaseDeg[i] * Math.PI) / 180);
  });
  const step = stepTimesMs.map((ms) => {
    let sum = 0;
    for (let i = 0; i < stepHz.length; i++)
      sum += (real[i] * Math.sin((2 * Math.PI * stepHz[i] * ms) / 1000)) / stepHz[i];
    return sum * byHz;
  });
  const most = step.reduce((top, value) => Math.max(top, Math.abs(value)), 1e-12);
  return step.map((value) => value / most);
}
