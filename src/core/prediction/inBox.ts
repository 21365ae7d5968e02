import type { BoxDriver, BoxSystem } from '@/core/box/enclosure';
import { boxCurves, type BoxCurves } from '@/core/box/response';
import { behindResistance } from '@/core/box/source';
import {
  boxDriverOf,
  boxedDrivers,
  filled,
  measuredEnclosure,
  type BoxedDrivers,
} from '@/core/cabinet/enclosureOf';
import { boxFor } from '@/core/cabinet/driversInBox';
import { inUnknownBox, type Box, type InBox } from '@/core/document/boxSchema';
import type { Design, Driver, Measurement } from '@/core/document/schema';
import { fitDriver } from '@/core/driver/parameters';
import type { DriverParameters } from '@/core/driver/thieleSmall';
import type { MeasurementData, Samples } from '@/core/measurement/samples';
import { nearOfFar, splice } from '@/core/measurement/splice';
import { ProblemError } from '@/core/problem';
import { coneRadiusM } from '@/core/radiation/piston';
import { baffleUse } from './baffleEffect';
import { wrapped } from '@/core/spectrum/phase';

/** What becomes of the box in a driver's response or impedance. */
export type BoxUse =
  /** No box is in use for it: as it was measured. */
  | 'no-box'
  /** Figures of the driver, or volume of the box, are missing: as it was measured. */
  | 'no-figures'
  /** The box that was in it is divided out, and the one in use multiplied in. */
  | 'exchanged'
  /** Which box was in it is not known: the model is heard below the splice. */
  | 'spliced';

/** The box in use that a driver is in, if any. */
export const boxOfDriver = (
  { boxes }: Pick<Design, 'boxes'>,
  driver: Pick<Driver, 'id'>,
): Box | undefined =>
  boxes.find(({ isUsed, driverIds }) => isUsed && driverIds.includes(driver.id));

/** What becomes of the box in one of a driver's measurements. */
export function boxUse(
  design: Design,
  driver: Driver,
  statement: Pick<Measurement, 'inBox'> | undefined,
): BoxUse {
  const box = boxOfDriver(design, driver);
  if (!box) return 'no-box';
  if (!boxedDrivers(boxFor(box, driver, design.drivers), design)) return 'no-figures';
  return statement && statement.inBox.kind !== 'unknown' ? 'exchanged' : 'spliced';
}

/** One driver of a box, per volt at its terminals. */
type Modelled = Pick<BoxCurves, 'levelDb' | 'phaseDeg' | 'ohms' | 'zDeg'>;

interface Models {
  readonly box: Box;
  readonly now: (frequencyHz: Float64Array) => Modelled;
  /** Of the box that the measurement holds; null where that is not known. */
  readonly then: ((frequencyHz: Float64Array) => Modelled) | null;
  /** Of all that the models depend on. */
  readonly key: string;
}

/**
 * Figures of a driver in free air: those of its impedance where it is said in which closed box, or in
 * none, that was measured, with Vas and Sd by its sheet; else those of its sheet. So the peak that a
 * measurement shows is the one that is divided out.
 *
 * @returns null while figures are missing
 */
export function figuresFor(
  design: Design,
  driver: Driver,
  data: MeasurementData,
): BoxDriver | null {
  const sheet = boxDriverOf(driver, design.airTemperatureC);
  const statement = design.measurements.find(({ id }) => id === driver.impedanceId);
  const impedance = statement && data.get(statement.id);
  if (!sheet || !impedance) return sheet;
  const { inBox } = statement;
  if (inBox.kind !== 'free' && inBox.kind !== 'sealed') return sheet;
  const fitted = fittedFigures(impedance, sheet.sdM2);
  if (!fitted) return sheet;
  // Small 1972: the air of a closed box raises resonance and Q's by one factor.
  const held = inBox.kind === 'free' ? null : filled(inBox);
  const alpha = held === null ? 0 : sheet.vasM3 / held.volumeM3;
  const stretch = Math.sqrt(1 + alpha);
  // Leaks and fibre take of the energy in that air alone.
  const per = (q: number | null | undefined) => (q == null ? 0 : 1 / q);
  const leak = (alpha / (1 + alpha)) * (per(held?.ql) + per(held?.qa));
  const qmc = 1 / Math.max(1e-3, 1 / fitted.qms - leak);
  return {
    ...{ ...sheet, reOhm: fitted.reOhm, fsHz: fitted.fsHz / stretch },
    ...coilOf(fitted),
    ...{ qms: qmc / stretch, qes: fitted.qes / stretch },
  };
}

/** The voice coil as it was fitted: with a second inductance beside a resistor where that fits better. */
function coilOf({ leHenry, le2Henry, re2Ohm, semiK }: DriverParameters): Partial<BoxDriver> {
  // A coil with a fractional power has no inductance to be told.
  if (semiK !== null) return {};
  return {
    leHenry,
    second: le2Henry === null || re2Ohm === null ? null : { henry: le2Henry, ohm: re2Ohm },
  };
}

const knownFits = new WeakMap<Samples, DriverParameters | null>();

function fittedFigures(impedance: Samples, sdM2: number): DriverParameters | null {
  const known = knownFits.get(impedance);
  if (known !== undefined) return known;
  let found: DriverParameters | null = null;
  try {
    found = impedance.phaseDeg ? fitDriver(impedance, null, { sdM2 }).parameters : null;
  } catch (error) {
    // It does not show a driver in a closed box: the sheet is what is left.
    if (!(error instanceof ProblemError)) throw error;
  }
  knownFits.set(impedance, found);
  return found;
}

/** The box in use that a driver is in, and all drivers in it as one. */
export interface DriversBox extends BoxedDrivers {
  readonly box: Box;
}

/** @returns null where a driver is in no box, or too little of it is known */
export function boxAround(
  design: Design,
  driver: Driver,
  data: MeasurementData,
): DriversBox | null {
  const box = boxOfDriver(design, driver);
  const boxed =
    box &&
    boxedDrivers(boxFor(box, driver, design.drivers), design, (one) =>
      figuresFor(design, one, data),
    );
  return boxed ? { box, ...boxed } : null;
}

function modelsOf(
  design: Design,
  driver: Driver,
  inBox: InBox,
  data: MeasurementData,
): Models | null {
  const around = boxAround(design, driver, data);
  const figures = around && figuresFor(design, driver, data);
  if (!figures) return null;
  const { box, system, count } = around;
  const enclosure = measuredEnclosure(inBox, system.air);
  const measured = enclosure && { driver: figures, enclosure, air: system.air };
  return {
    box,
    now: (frequencyHz) => modelled(system, count, frequencyHz),
    then: measured && ((frequencyHz) => modelled(measured, 1, frequencyHz)),
    key: JSON.stringify([system, count, measured, box.spliceHz, box.shell.widthMm]),
  };
}

function modelled(system: BoxSystem, count: number, frequencyHz: Float64Array): Modelled {
  const all = boxCurves(system, behindResistance(1, 0, frequencyHz.length), frequencyHz);
  const share = 20 * Math.log10(count);
  return {
    ...all,
    levelDb: all.levelDb.map((db) => db - share),
    ohms: all.ohms.map((ohms) => ohms * count),
  };
}

/** Samples never change: what a box makes of them is kept with them, for some boxes. */
const kept = new WeakMap<Samples, Map<string, Samples>>();
const mostKept = 6;

function remembered(samples: Samples, key: string, make: () => Samples): Samples {
  const known = kept.get(samples) ?? new Map<string, Samples>();
  kept.set(samples, known);
  const before = known.get(key);
  if (before) return before;
  const made = make();
  known.set(key, made);
  if (known.size > mostKept) known.delete(known.keys().next().value!);
  return made;
}

/**
 * A driver's response in the box that it is in: the box that was measured divided out and this one
 * multiplied in, or, where nobody said which was measured, the model below the splice.
 */
export function responseInBox(
  design: Design,
  driver: Driver,
  statement: Measurement,
  response: Samples,
  data: MeasurementData,
): Samples {
  const models = modelsOf(design, driver, statement.inBox, data);
  if (!models) return response;
  const isInWall = baffleUse(design, driver, statement) === 'added';
  const { distanceMm } = statement.microphone;
  const key = `${models.key} ${isInWall} ${distanceMm} ${statement.driveVolts}`;
  return remembered(response, `response ${key}`, () => {
    const swapped = models.then ? exchanged(response, models.now, models.then) : response;
    const [firstHz] = response.frequencyHz;
    if (models.then && firstHz <= reachesHz) return swapped;
    // A gated response ends where the box begins: the model goes on from there.
    const atHz = Math.max(models.then ? 0 : models.box.spliceHz, aboveFirst * firstHz);
    try {
      return spliced(swapped, models, atHz, driver, statement, isInWall);
    } catch (error) {
      // It ends before the splice: it is used as it is.
      if (error instanceof ProblemError) return swapped;
      throw error;
    }
  });
}

function exchanged(
  response: Samples,
  now: Models['now'],
  then: NonNullable<Models['then']>,
): Samples {
  const { frequencyHz, magnitude, phaseDeg } = response;
  const [after, before] = [now(frequencyHz), then(frequencyHz)];
  return {
    frequencyHz,
    magnitude: magnitude.map((db, i) => db + after.levelDb[i] - before.levelDb[i]),
    phaseDeg:
      phaseDeg === null
        ? null
        : phaseDeg.map((deg, i) => deg + turn(after.phaseDeg[i] - before.phaseDeg[i])),
  };
}

const turn = (degrees: number) => (wrapped((degrees * Math.PI) / 180) * 180) / Math.PI;

/** A response that begins no higher than this holds the lows itself, Hz. */
const reachesHz = 25;
/** Where a model is joined to one that begins higher, over its first frequency. */
const aboveFirst = 1.35;

/** Below the response's own data the model goes on to here, Hz. */
const lowestHz = 8;

function spliced(
  response: Samples,
  { box, now }: Models,
  atHz: number,
  driver: Driver,
  { microphone: { distanceMm }, driveVolts }: Measurement,
  isInWall: boolean,
): Samples {
  const below = lowerGrid(response.frequencyHz, 2 * atHz);
  const { levelDb, phaseDeg } = now(below);
  const radiusMm = 1000 * coneRadiusM(driver.sheet.sdCm2!);
  // Model: 1 V, 1 m. Measured: its volts and its distance.
  const scaleDb = 20 * Math.log10((driveVolts * 1000) / distanceMm);
  const near = nearOfFar(
    { frequencyHz: below, magnitude: levelDb.map((db) => db + scaleDb), phaseDeg },
    radiusMm,
    distanceMm,
  );
  return splice([{ samples: near, radiusMm }], response, {
    atHz,
    farDistanceMm: distanceMm,
    // A response without its baffle gets the step with that.
    stepWidthMm: isInWall ? null : box.shell.widthMm,
  }).samples;
}

/** The frequencies of some samples up to a limit, and on down from their first. */
function lowerGrid(frequencyHz: Float64Array, toHz: number): Float64Array {
  const first = frequencyHz[0];
  const steps = Math.max(0, Math.ceil(24 * Math.log2(first / lowestHz)));
  return Float64Array.from([
    ...Array.from({ length: steps }, (_, k) => first * 2 ** ((k - steps) / 24)),
    ...frequencyHz.filter((hz, i) => i === 0 || hz <= toHz || frequencyHz[i - 1] <= toHz),
  ]);
}

/** A driver's impedance in the box that it is in; see {@link responseInBox}. */
export function impedanceInBox(
  design: Design,
  driver: Driver,
  statement: Measurement | undefined,
  impedance: Samples,
  data: MeasurementData,
): Samples {
  const models = modelsOf(design, driver, statement?.inBox ?? inUnknownBox, data);
  if (!models) return impedance;
  return remembered(impedance, `impedance ${models.key}`, () => {
    const { then, now, box } = models;
    if (then) return exchangedOhms(impedance, now, then);
    return splicedOhms(impedance, now, box.spliceHz);
  });
}

/** The motion that the box allows is what differs: it is added, as motional impedances are. */
function exchangedOhms(
  { frequencyHz, magnitude, phaseDeg }: Samples,
  now: Models['now'],
  then: NonNullable<Models['then']>,
): Samples {
  const [after, before] = [now(frequencyHz), then(frequencyHz)];
  if (phaseDeg === null)
    return {
      frequencyHz,
      magnitude: magnitude.map((ohms, i) => (ohms * after.ohms[i]) / before.ohms[i]),
      phaseDeg,
    };
  return fromParts(frequencyHz, (i) => {
    const own = parts(magnitude[i], phaseDeg[i]);
    const plus = parts(after.ohms[i], after.zDeg[i]);
    const minus = parts(before.ohms[i], before.zDeg[i]);
    return [own[0] + plus[0] - minus[0], own[1] + plus[1] - minus[1]];
  });
}

/** Half of the join's width, octaves. */
const halfJoinOctaves = 1 / 3;

function splicedOhms(
  { frequencyHz, magnitude, phaseDeg }: Samples,
  now: Models['now'],
  atHz: number,
): Samples {
  const model = now(frequencyHz);
  return fromParts(frequencyHz, (i) => {
    const t = Math.log2(frequencyHz[i] / atHz) / (2 * halfJoinOctaves) + 0.5;
    const share = 0.5 - 0.5 * Math.cos(Math.PI * Math.min(1, Math.max(0, t)));
    const own = parts(magnitude[i], phaseDeg ? phaseDeg[i] : model.zDeg[i]);
    const other = parts(model.ohms[i], model.zDeg[i]);
    return [share * own[0] + (1 - share) * other[0], share * own[1] + (1 - share) * other[1]];
  });
}

const parts = (size: number, degrees: number): [number, number] => [
  size * Math.cos((degrees * Math.PI) / 180),
  size * Math.sin((degrees * Math.PI) / 180),
];

function fromParts(frequencyHz: Float64Array, at: (i: number) => [number, number]): Samples {
  const magnitude = new Float64Array(frequencyHz.length);
  const phaseDeg = new Float64Array(frequencyHz.length);
  for (let i = 0; i < frequencyHz.length; i++) {
    const [re, im] = at(i);
    magnitude[i] = Math.hypot(re, im);
    phaseDeg[i] = (Math.atan2(im, re) * 180) / Math.PI;
  }
  return { frequencyHz, magnitude, phaseDeg };
}
