import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { responseOnGrid, type GridSpectrum } from '@/core/measurement/onGrid';
import {
  betweenOrbits,
  fromDriver,
  headingOf,
  isAimed,
  leastCertain,
  straight,
  type Direction,
  type Heading,
  type RadiationSource,
} from '@/core/radiation/direction';
import {
  createOrbits,
  type MeasuredDirection,
  type MeasuredOrbits,
  type OrbitCurve,
  type OrbitNode,
} from '@/core/radiation/orbit';
import { pathToMm, pointAtMm, type Position } from '@/core/radiation/path';
import type { BaffleEffect, BaffleEffectOf } from './baffleEffect';
import type { Conditioner } from './conditioner';
import { createMemory } from './memory';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design, Driver, Measurement } from '@/core/document/schema';
import type { MeasurementId } from '@/core/fields';
import { boundsOf } from '@/core/document/baffleSchema';

/** What a driver sends somewhere, and what that rests on. */
export interface Radiated {
  readonly spectrum: GridSpectrum;
  readonly source: RadiationSource;
}

/**
 * Turns what a driver sends where it was measured on the axis into what it sends in some direction.
 * Levels are those at the distance, times the distance; flight times are counted from the listening
 * distance. Null where nothing is known.
 *
 * @param distanceMm from the origin; by default that of the listener
 */
export interface OffAxis {
  (onAxis: GridSpectrum, heading: Heading, distanceMm?: number): Radiated | null;
  /**
   * What a driver that points elsewhere sends along the design axis against its own; null for one
   * that looks ahead, and where it is not known.
   */
  readonly aside: GridSpectrum | null;
}

/** Null when a driver was not measured off its axis and no model knows its baffle and its size. */
export type OffAxisOf = (design: Design, driver: Driver, data: MeasurementData) => OffAxis | null;

/**
 * What the off-axis measurements of drivers say: level and phase in each direction against the axis,
 * and the path there. Directions that were not measured are modelled from baffle and size of the cone
 * where these are known. Worked out anew only when measurements or driver change.
 *
 * @param frequencyHz rising frequencies in Hz
 */
export function createOffAxis(
  frequencyHz: Float64Array,
  condition: Conditioner,
  baffleEffectOf: BaffleEffectOf,
): OffAxisOf {
  const remember = createMemory<MeasuredOrbits | null>();
  const rememberToward = createMemory<OffAxis>();
  const rememberSaid = createMemory<Said>();
  return (design, driver, data) => {
    const { measurements, airTemperatureC: celsius } = design;
    const { ids, said } = rememberSaid(driver.id, [measurements, driver, celsius], () =>
      saidOf(design, driver),
    );
    const numbers = ids.map((id) => data.get(id));
    const measured = remember(driver.id, [said, ...numbers], () => {
      const directions = directionsOf(design, driver, data, condition, frequencyHz);
      return directions.length === 0 ? null : createOrbits(directions, frequencyHz.length);
    });
    const effect = baffleEffectOf(design, driver);
    if (!measured && !effect?.modelled) return null;
    const { xMm, yMm, zMm } = driver.position;
    const { yawDeg, pitchDeg } = driver.aim;
    const { listeningDistanceMm, airTemperatureC } = design;
    return rememberToward(
      driver.id,
      [
        ...[measured, effect, xMm, yMm, zMm, yawDeg, pitchDeg],
        ...[listeningDistanceMm, airTemperatureC, said],
      ],
      () => towardFrom(measured, effect, design, driver, frequencyHz),
    );
  };
}

/** What a document says of a driver's measurements. */
interface Said {
  readonly ids: readonly MeasurementId[];
  /** All that counts: two documents that share no object may say the same. */
  readonly said: string;
}

function saidOf({ measurements, airTemperatureC }: Design, driver: Driver): Said {
  const used = new Set([...driver.offAxisIds, driver.responseId]);
  const statements = measurements.filter(({ id }) => used.has(id));
  return {
    ids: statements.map(({ id }) => id),
    said: JSON.stringify([
      statements.map(({ id, recipe, angle, microphone, driveVolts }) => [
        ...[id, recipe, angle, microphone, driveVolts],
      ]),
      driver.measuredAt ?? driver.position,
      airTemperatureC,
    ]),
  };
}

/** A heading's level and phase against the axis, before the path. */
interface Ratio {
  readonly re: Float64Array;
  readonly im: Float64Array;
  readonly source: RadiationSource;
}

function towardFrom(
  measured: MeasuredOrbits | null,
  effect: BaffleEffect | null,
  design: Design,
  driver: Driver,
  frequencyHz: Float64Array,
): OffAxis {
  const { position, aim } = driver;
  const speed = 1000 * speedOfSoundMps(design.airTemperatureC);
  const points = frequencyHz.length;
  const statement = design.measurements.find(({ id }) => id === driver.responseId);
  const ratioOf = ratiosFrom(
    ...([measured, effect, points] as const),
    statement?.microphone.distanceMm ?? design.listeningDistanceMm,
    isCentred(design, driver),
  );
  const isTurned = isAimed(aim);
  const home = design.listeningDistanceMm;
  const homeMm = pathToMm(position, pointAtMm(headingOf(straight), home));
  const axis = isTurned ? ratioOf(fromDriver(aim, headingOf(straight)), home) : null;
  // What was multiplied by the same before is divided by it as it is.
  const isFromOwnAxis = statement?.microphone.placement === 'own-axis';
  const least = isFromOwnAxis ? 1e-12 : leastSquare;
  const toward = ({ re, im }: GridSpectrum, heading: Heading, distanceMm = home) => {
    const point = pointAtMm(heading, distanceMm);
    const ratio = ratioOf(
      isTurned ? fromDriver(aim, seenFrom(position, point)) : heading,
      distanceMm,
    );
    if (!ratio) return null;
    const pathMm = pathToMm(position, point);
    // What comes to the listener holds the path there, over the distance there.
    const addedMm = pathMm - distanceMm - (homeMm - home);
    const gain = (distanceMm / pathMm) * (homeMm / home);
    const turnPerHz = (-2 * Math.PI * addedMm) / speed;
    const out = { re: new Float64Array(points), im: new Float64Array(points) };
    for (let i = 0; i < points; i++) {
      const cos = gain * Math.cos(turnPerHz * frequencyHz[i]);
      const sin = gain * Math.sin(turnPerHz * frequencyHz[i]);
      let [x, y] = [ratio.re[i], ratio.im[i]];
      if (axis) {
        const size = Math.max(least, axis.re[i] ** 2 + axis.im[i] ** 2);
        [x, y] = [
          (x * axis.re[i] + y * axis.im[i]) / size,
          (y * axis.re[i] - x * axis.im[i]) / size,
        ];
      }
      const [u, v] = [x * cos - y * sin, x * sin + y * cos];
      out.re[i] = re[i] * u - im[i] * v;
      out.im[i] = re[i] * v + im[i] * u;
    }
    return { spectrum: out, source: ratio.source };
  };
  return Object.assign(toward, { aside: axis });
}

/** A driver so near the middle of its front has two sides that are alike, mm. */
const centredMm = 2;

/** Whether a driver stands in the middle of the width of its front; it counts so where it stands on none. */
function isCentred({ panels }: Design, { mounting, position }: Driver): boolean {
  const panel = panels.find(({ id }) => id === mounting.panelId);
  if (!panel) return true;
  const { leftMm, rightMm } = boundsOf(panel.corners);
  return Math.abs(position.xMm - (leftMm + rightMm) / 2) < centredMm;
}

/** Least square of a level that something is divided by: what is quieter is not known so well. */
const leastSquare = 0.05 ** 2;

/** Direction of a point from a driver. */
function seenFrom({ xMm, yMm, zMm }: Position, point: Position): Heading {
  const [x, y, z] = [point.xMm - xMm, point.yMm - yMm, point.zMm - zMm];
  const length = Math.hypot(x, y, z);
  return { x: x / length, y: y / length, z: z / length };
}

/** Between angles no farther apart than this a model adds nothing to what was measured, degrees. */
const fineDeg = 15;

/** What was measured may lie so far off the model; more is a null that one of both has elsewhere, dB. */
const mostOverDb = 12;

/**
 * What is sent toward a heading, seen from the driver, against its axis: measured or modelled, and
 * between and beyond what was measured both.
 *
 * @param measuredMm distance at which it was measured
 * @param isCentred whether both sides of the driver are alike
 */
function ratiosFrom(
  measured: MeasuredOrbits | null,
  effect: BaffleEffect | null,
  points: number,
  measuredMm: number,
  isCentred: boolean,
) {
  const one = new Float64Array(points).fill(1);
  const zero = new Float64Array(points);

  /**
   * What was measured over what the model says of the baffle that it was measured on: far smoother over
   * the angle than the level itself, and alike on both sides of a driver that is not in the middle.
   */
  const overModel = new Map<OrbitNode, OrbitCurve>();
  function overModelOf(node: OrbitNode): OrbitCurve {
    const before = overModel.get(node);
    if (before) return before;
    const heading = headingOf(node.measured);
    const now = node.measured.degrees === 0 ? null : modelOf(heading, measuredMm);
    const exchange = now && (effect?.offAxis?.(heading, measuredMm) ?? null);
    const levelDb = node.levelDb.slice();
    const phase = node.phase.slice();
    for (let i = 0; now && i < points; i++) {
      let [x, y] = [now.re[i], now.im[i]];
      if (exchange) {
        // The old baffle's: what is there now over what changed.
        const square = Math.max(leastSquare, exchange.re[i] ** 2 + exchange.im[i] ** 2);
        [x, y] = [
          (x * exchange.re[i] + y * exchange.im[i]) / square,
          (y * exchange.re[i] - x * exchange.im[i]) / square,
        ];
      }
      const modelDb = 10 * Math.log10(Math.max(leastSquare, x * x + y * y));
      levelDb[i] = Math.max(-mostOverDb, Math.min(mostOverDb, levelDb[i] - modelDb));
      if (node.isTimed) phase[i] -= Math.atan2(y, x);
    }
    const curve = { levelDb, phase };
    overModel.set(node, curve);
    return curve;
  }
  const modelOf = (heading: Heading, distanceMm: number) =>
    effect?.modelled?.(heading, distanceMm) ?? null;

  function onOrbit(direction: Direction, distanceMm: number): Ratio | null {
    if (direction.degrees === 0) return { re: one, im: zero, source: 'measured' };
    const there = measured?.at(direction);
    if (there) {
      const exchanged = effect?.offAxis?.(headingOf(direction), distanceMm) ?? null;
      const ratio = ratioOf(there, exchanged, true);
      return { ...ratio, source: exchanged ? 'modelled' : 'measured' };
    }
    const plain = measured?.toward(direction) ?? null;
    const isFine = plain?.standsFor === null && plain.gapDeg <= fineDeg;
    if (isFine && !effect?.offAxis && (isCentred || !plain.isMirrored))
      return { ...ratioOf(plain, null, true), source: 'interpolated' };
    const model = modelOf(headingOf(direction), distanceMm);
    const known = model ? (measured?.toward(direction, overModelOf) ?? null) : plain;
    if (!known) return model && { ...model, source: 'modelled' };
    const { standsFor, isMirrored, isTimed } = known;
    // Nothing says what is different beyond what was measured.
    if (standsFor && !model && isFarther(direction, standsFor)) return null;
    const isGuessed = standsFor !== null || (isMirrored && !isCentred);
    return {
      ...ratioOf(known, model, isTimed),
      source: isGuessed || effect?.offAxis ? 'modelled' : 'interpolated',
    };
  }

  /** A level and phase times a model, of which the size alone counts where nothing was timed. */
  function ratioOf({ levelDb, phase }: OrbitCurve, times: GridSpectrum | null, isTimed: boolean) {
    const re = new Float64Array(points);
    const im = new Float64Array(points);
    for (let i = 0; i < points; i++) {
      const size = 10 ** (levelDb[i] / 20);
      const [x, y] = [size * Math.cos(phase[i]), size * Math.sin(phase[i])];
      const [u, v] = times === null ? [1, 0] : [times.re[i], times.im[i]];
      const whole = Math.hypot(u, v);
      re[i] = isTimed ? x * u - y * v : x * whole;
      im[i] = isTimed ? x * v + y * u : y * whole;
    }
    return { re, im };
  }

  return (heading: Heading, distanceMm: number): Ratio | null => {
    const { horizontalShare, verticalShare, horizontalDeg, verticalDeg } = betweenOrbits(heading);
    const horizontal: Direction = { plane: 'horizontal', degrees: horizontalDeg };
    const vertical: Direction = { plane: 'vertical', degrees: verticalDeg };
    if (verticalShare < onPlane) return onOrbit(horizontal, distanceMm);
    if (horizontalShare < onPlane) return onOrbit(vertical, distanceMm);
    const [a, b] = [onOrbit(horizontal, distanceMm), onOrbit(vertical, distanceMm)];
    if (!a || !b) return null;
    return {
      re: a.re.map((value, i) => horizontalShare * value + verticalShare * b.re[i]),
      im: a.im.map((value, i) => horizontalShare * value + verticalShare * b.im[i]),
      source: leastCertain([a.source, b.source, 'interpolated']),
    };
  };
}

/** A heading with less of a plane lies in the other. */
const onPlane = 1e-9;
/** As far beyond the widest angle that was measured its level still holds, degrees. */
const slackDeg = 5;

const isFarther = (direction: Direction, standsFor: Direction): boolean =>
  Math.abs(direction.degrees) - Math.abs(standsFor.degrees) > slackDeg;

/** Angles this close to 0 are the axis. */
const axisDeg = 0.5;

/**
 * The directions that a driver was measured in, against its axis: of the same set, or else of its
 * own response. Phases count where all of them share one time reference.
 */
function directionsOf(
  design: Design,
  driver: Driver,
  data: MeasurementData,
  condition: Conditioner,
  frequencyHz: Float64Array,
): MeasuredDirection[] {
  const { offAxisIds, responseId } = driver;
  const find = (id: string | null) => design.measurements.find((one) => one.id === id);
  const speed = 1000 * speedOfSoundMps(design.airTemperatureC);
  const at = driver.measuredAt ?? driver.position;

  /** Level for a volt at a metre and phase with its path taken out; −∞ where nothing was measured. */
  function sent(
    { microphone, driveVolts }: Measurement,
    spectrum: GridSpectrum,
    turned: Direction,
  ) {
    const pathMm =
      microphone.placement === 'own-axis'
        ? microphone.distanceMm - at.zMm
        : pathToMm(at, pointAtMm(headingOf(turned), microphone.distanceMm));
    const gain = pathMm / 1000 / driveVolts;
    const { re, im } = spectrum;
    return {
      levelDb: re.map((x, i) => 10 * Math.log10(gain * gain * (x * x + im[i] * im[i]))),
      phase: re.map(
        (x, i) => Math.atan2(im[i], x) + (2 * Math.PI * frequencyHz[i] * pathMm) / speed,
      ),
    };
  }
  const read = (measurement: Measurement, turned: Direction) => {
    const response = condition(measurement, data);
    if (!response) return null;
    const spectrum = responseOnGrid(response.samples, frequencyHz);
    const hasPhase = response.samples.phaseDeg !== null;
    return { ...sent(measurement, spectrum, turned), hasPhase };
  };

  const set = offAxisIds.flatMap((id) => {
    const measurement = find(id);
    return measurement?.angle ? [{ measurement, direction: measurement.angle }] : [];
  });
  const ownAxis = set.find(({ direction }) => Math.abs(direction.degrees) < axisDeg)?.measurement;
  const axis = ownAxis ?? find(responseId);
  const axisSent = axis ? read(axis, straight) : null;
  if (!axis || !axisSent) return [];
  return set.flatMap(({ measurement, direction }) => {
    if (Math.abs(direction.degrees) < axisDeg) return [];
    const there = read(measurement, direction);
    if (!there) return [];
    const hasTiming =
      there.hasPhase &&
      axisSent.hasPhase &&
      measurement.microphone.commonTiming &&
      axis.microphone.commonTiming;
    const levelDb = there.levelDb.map((db, i) => db - axisSent.levelDb[i]);
    const phase = there.phase.map((angle, i) => (hasTiming ? angle - axisSent.phase[i] : 0));
    holdEnds(levelDb, phase);
    return [{ direction, levelDb, phase, isTimed: hasTiming }];
  });
}

/**
 * Where either was not measured the driver counts as it is at the nearest frequency where both were:
 * below a gate it radiates nearly alike all around.
 */
function holdEnds(levelDb: Float64Array, phase: Float64Array): void {
  const isKnown = (db: number) => Number.isFinite(db);
  const [first, last] = [levelDb.findIndex(isKnown), levelDb.findLastIndex(isKnown)];
  if (first < 0) {
    levelDb.fill(0);
    phase.fill(0);
    return;
  }
  for (let i = 0; i < levelDb.length; i++) {
    if (isKnown(levelDb[i])) continue;
    const at = i < first ? first : i > last ? last : i - 1;
    levelDb[i] = levelDb[at];
    phase[i] = phase[at];
  }
}
