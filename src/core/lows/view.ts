import { boxFor, driversInBox, leastXmaxMm } from '@/core/cabinet/driversInBox';
import type { BoxDriver, BoxSystem } from '@/core/box/enclosure';
import { totalQ } from '@/core/driver/motor';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { boxedDrivers } from '@/core/cabinet/enclosureOf';
import { netVolumeOf, type NetVolume } from '@/core/cabinet/netVolume';
import { outsideLitres } from '@/core/cabinet/shell';
import { boxOutlay, type BoxOutlay } from '@/core/cabinet/outlay';
import { quietMps, tunedToHz, ventFacts, ventFit, type VentFit } from '@/core/cabinet/vent';
import { nearestIndex } from '@/core/grid/nearest';
import { applyChange } from '@/core/editing/applyChange';
import type { MeasurementData } from '@/core/measurement/samples';
import { figuresFor } from '@/core/prediction/inBox';
import { cutOffHz, cutOffReferenceDb } from '@/core/prediction/figures';
import { createPredictor, type Predictor } from '@/core/prediction/predict';
import { interpolated } from '@/core/measurement/interpolate';
import {
  lowsCurves,
  lowsFigures,
  plateauDb,
  plateauOf,
  stepOf,
  type LowsCurves,
  type LowsFigures,
} from './boxFigures';
import { boundaryGainDb } from './boundaries';
import { lowsSetting, type LowsSetting } from './setting';

/** A box as its design has it. */
export interface BoxView {
  readonly boxId: string;
  readonly name: string;
  readonly volume: NetVolume;
  readonly outsideLitres: number;
  readonly outlay: BoxOutlay;
  readonly tunedHz: number | null;
  readonly vent: (VentFit & ReturnType<typeof ventFacts>) | null;
  /** Null while drivers, their figures or a volume are missing. */
  readonly curves: LowsCurves | null;
  /** Qts of its drivers, by themselves and with what is before them at their resonance in the box (Small 1972). */
  readonly qts: {
    readonly alone: number;
    /** Null behind a network that is no resistance there. */
    readonly driven: number | null;
    readonly seriesOhms: number;
  } | null;
  /** Of a sealed box: resonance and total Q, with what is before the drivers; null of others. */
  readonly closed: { readonly fcHz: number; readonly qtc: number | null } | null;
  /** The level with what the boundaries of the design add to it; null in a free field. */
  readonly withBoundariesDb: Float64Array | null;
  /** For a sine at the programme's voltage, or at the source's while the brief says nothing. */
  readonly driven: Pick<LowsCurves, 'excursionMm' | 'openingSpeed'> | null;
  /** What its drivers bear, and up to which speed its port is quiet; null where there is none. */
  readonly limits: { readonly xmaxMm: number | null; readonly portMps: number | null };
  /** Of the box alone to a step of voltage, at `stepTimesMs`; null as the curves are. */
  readonly step: Float64Array | null;
  /** The design's sum on the axis with this box in use; null without a sum. */
  readonly sumDb: Float64Array | null;
  readonly figures: LowsFigures | null;
  /** Whether the figures are those of the design's sum, or of the box alone in half space. */
  readonly isInDesign: boolean;
}

export interface BoxViews {
  readonly frequencyHz: Float64Array;
  /** Of the programme over the source's volts, for curves that are shown as the brief drives them. */
  readonly timesProgramme: number | null;
  /** A sine at the amplifier's rated power over the source's volts; null without one. */
  readonly timesRated: number | null;
  readonly volts: number;
  readonly seriesOhms: number;
  readonly hasNetwork: boolean;
  readonly toSeatDb: number | null;
  /** Level of a sine at 1 m that gives the farthest seat what the brief asks. */
  readonly wantedDb: number | null;
  readonly views: readonly BoxView[];
}

const withUsed = (design: Design, box: Box): Design =>
  applyChange(design, { type: 'setBox', box: { ...box, isUsed: true } });

/** Looks at boxes of a design; what did not change is kept. */
export function createBoxViews() {
  const predict = createPredictor();
  const predictBeside = createPredictor();
  /** @param boxes candidates that share their drivers, of the design or not */
  return (design: Design, boxes: readonly Box[], data: MeasurementData): BoxViews => {
    const [first] = boxes;
    const setting = lowsSetting(design, first ? ofFirst(first, design) : noDrivers, data, predict);
    return {
      frequencyHz: setting.frequencyHz,
      timesProgramme: setting.timesProgramme,
      timesRated: setting.timesRated,
      volts: design.amplifier.volts,
      seriesOhms: setting.seriesOhms,
      hasNetwork: setting.hasNetwork,
      toSeatDb: setting.toSeatDb,
      wantedDb: setting.wantedDb,
      views: boxes.map((box) => viewOf(design, box, data, setting, predictBeside)),
    };
  };
}

const noDrivers = { driverIds: [] };

/** A box with the drivers whose figures are told: on an open baffle those like the first. */
function ofFirst(box: Box, { drivers }: Pick<Design, 'drivers'>): Box {
  const own = driversInBox(box, drivers).at(0);
  return own ? boxFor(box, own, drivers) : box;
}

function viewOf(
  design: Design,
  whole: Box,
  data: MeasurementData,
  setting: LowsSetting,
  predict: Predictor,
): BoxView {
  const box = ofFirst(whole, design);
  const own = driversInBox(box, design.drivers).at(0);
  const boxed = boxedDrivers(box, design, (driver) => figuresFor(design, driver, data));
  const curves = boxed && lowsCurves(box, boxed.system, design.drivers, setting);
  const qts = boxed && drivenQts(boxed.system, setting);
  const { frequencyHz } = setting;
  const boundaryDb = own ? boundaryGainDb(design, own, frequencyHz) : null;
  const sum =
    boxed && setting.now ? predict(withUsed(design, whole), data, { offAxis: 'known' }) : null;
  const sumDb = sum?.sum ? sum.sum.levelDb : null;
  const onLows = sum && sumDb && onLowsGrid(sum.frequencyHz, sumDb, frequencyHz);
  const levelDb = onLows ?? curves?.levelDb;
  const figures =
    sum && sumDb && curves
      ? figuresInDesign(box, curves, setting, sum.frequencyHz, sumDb)
      : curves && boxed && figuresAlone(box, curves, setting, boxed.system);
  return {
    boxId: box.id,
    name: box.name,
    volume: netVolumeOf(whole, design),
    outsideLitres: outsideLitres(box.shell),
    outlay: boxOutlay(whole, design),
    tunedHz: tunedToHz(box, design, setting.air),
    vent: box.kind === 'vented' ? { ...ventFit(box), ...ventFacts(box.port, setting.air) } : null,
    curves,
    qts,
    closed: boxed && closedOf(boxed.system, setting),
    withBoundariesDb: boundaryDb && (levelDb?.map((db, i) => db + boundaryDb[i]) ?? null),
    driven: curves && drivenBy(curves, setting.timesProgramme ?? 1),
    limits: {
      xmaxMm: leastXmaxMm(box, design.drivers),
      portMps: box.kind === 'vented' ? quietMps(box.port) : null,
    },
    step: boxed && stepOf(boxed.system, setting.seriesOhms),
    sumDb: onLows,
    figures,
    isInDesign: sumDb !== null,
  };
}

const drivenBy = ({ excursionMm, openingSpeed }: LowsCurves, times: number): BoxView['driven'] => ({
  excursionMm: excursionMm.map((mm) => mm * times),
  openingSpeed: openingSpeed.map((speed) => speed * times),
});

/** A resistance before a driver weakens its electrical damping: Qes grows as (Re + R)/Re. */
const qtsBehind = ({ qes, qms, reOhm }: BoxDriver, ohms: number): number =>
  totalQ({ qes: (qes * (reOhm + ohms)) / reOhm, qms })!;

/** Resonance of a driver in its box, or in none, Hz. */
const resonanceIn = ({ driver: { fsHz, vasM3 }, enclosure }: BoxSystem): number =>
  enclosure.kind === 'sealed' ? fsHz * Math.sqrt(1 + vasM3 / enclosure.volumeM3) : fsHz;

/** What is before the drivers where they resonate; null where it is no resistance. */
function seriesAt(hz: number, reOhm: number, { frequencyHz, source }: LowsSetting): number | null {
  const at = nearestIndex(frequencyHz, hz);
  const [ohms, reactance] = [source.ohmRe[at], source.ohmIm[at]];
  return Math.abs(reactance) > reactiveShare * (reOhm + ohms) ? null : ohms;
}

function drivenQts(system: BoxSystem, setting: LowsSetting): NonNullable<BoxView['qts']> {
  const { driver } = system;
  const ohms = seriesAt(resonanceIn(system), driver.reOhm, setting);
  return {
    alone: qtsBehind(driver, 0),
    driven: ohms === null ? null : qtsBehind(driver, ohms),
    seriesOhms: ohms ?? 0,
  };
}

/** Reactance before a driver over all resistance in its loop, from which it has no one Q. */
const reactiveShare = 1 / 3;

/**
 * fc and Qtc of a sealed box with all that damps it: what is before the driver at fc, leaks and fibre,
 * 1/Q = 1/Qt + α/(1 + α)·(1/QL + 1/QA) (Small 1972); null of others, and Qtc behind a network that is no
 * resistance there.
 */
function closedOf(system: BoxSystem, setting: LowsSetting): BoxView['closed'] {
  const { driver, enclosure } = system;
  if (enclosure.kind !== 'sealed') return null;
  const alpha = driver.vasM3 / enclosure.volumeM3;
  const fcHz = resonanceIn(system);
  const ohms = seriesAt(fcHz, driver.reOhm, setting);
  if (ohms === null) return { fcHz, qtc: null };
  const losses = [enclosure.ql, enclosure.qa].reduce<number>(
    (sum, q) => sum + (q === null ? 0 : 1 / q),
    0,
  );
  const qt = Math.sqrt(1 + alpha) * qtsBehind(driver, ohms);
  return { fcHz, qtc: 1 / (1 / qt + (alpha / (1 + alpha)) * losses) };
}

/** Below the prediction's own grid nothing is known of the sum. */
const onLowsGrid = (fromHz: Float64Array, levelDb: Float64Array, toHz: Float64Array) =>
  interpolated(fromHz, levelDb, toHz).map((db, i) => (toHz[i] < fromHz[0] ? NaN : db));

/** Where the search for a cut-off begins, Hz: over all that a box does. */
export const searchFromHz = 200;

/** The cut-offs are the promises' own. */
function figuresInDesign(
  box: Box,
  curves: LowsCurves,
  setting: LowsSetting,
  frequencyHz: Float64Array,
  sumDb: Float64Array,
): LowsFigures {
  const levelDb = interpolated(frequencyHz, sumDb, setting.frequencyHz);
  const figures = lowsFigures(
    ...([box, curves, setting, levelDb] as const),
    cutOffReferenceDb(frequencyHz, sumDb) ?? -Infinity,
    searchFromHz,
  );
  return {
    ...figures,
    f3Hz: cutOffHz(frequencyHz, sumDb, 3),
    f10Hz: cutOffHz(frequencyHz, sumDb, 10),
  };
}

/** A box alone is looked at from its own plateau. */
export function figuresAlone(
  box: Box,
  curves: LowsCurves,
  setting: LowsSetting,
  system: BoxSystem,
): LowsFigures {
  const band = plateauOf(system);
  return lowsFigures(
    ...([box, curves, setting, curves.levelDb] as const),
    plateauDb(setting.frequencyHz, curves.levelDb, band),
    band.fromHz,
    band,
  );
}
