import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { responseOnGrid, type GridSpectrum } from '@/core/measurement/onGrid';
import {
  levelToward,
  listeningWindow,
  type Direction,
  type MeasuredDirection,
} from '@/core/radiation/offAxis';
import { pathTowardMm } from '@/core/radiation/path';
import type { BaffleEffect, BaffleEffectOf } from './baffleEffect';
import type { Conditioner } from './conditioner';
import { createMemory } from './memory';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design, Driver, Measurement } from '@/core/document/schema';

/** Turns what a driver sends along the axis into what it sends in some direction. */
interface OffAxis {
  (onAxis: GridSpectrum, direction: Direction): GridSpectrum | null;
  /** Whether it is a model that says so, wholly or in part. */
  readonly isModelled: (direction: Direction) => boolean;
}

/** Null when a driver was not measured off its axis and no model knows its baffle and its size. */
export type OffAxisOf = (design: Design, driver: Driver, data: MeasurementData) => OffAxis | null;

/**
 * What the off-axis measurements of drivers say: the level in each direction against the axis, and
 * the path there. Directions that were not measured are modelled from baffle and size of the cone
 * where these are known. Phase other than that of the path is taken to stay as on the axis, which holds
 * for a driver in its front. Worked out anew only when measurements or driver change.
 *
 * @param frequencyHz rising frequencies in Hz
 */
export function createOffAxis(
  frequencyHz: Float64Array,
  condition: Conditioner,
  baffleEffectOf: BaffleEffectOf,
): OffAxisOf {
  const remember = createMemory<MeasuredDirection[]>();
  const rememberToward = createMemory<OffAxis>();
  return (design, driver, data) => {
    const used = new Set([...driver.offAxisIds, driver.responseId]);
    const statements = design.measurements.filter(({ id }) => used.has(id));
    // A document from another thread is made of new objects: what is said in it tells whether it is
    // the same.
    const said = JSON.stringify(
      statements.map(({ id, recipe, angle, microphone, driveVolts }) => [
        ...[id, recipe, angle, microphone, driveVolts],
      ]),
    );
    const numbers = statements.map(({ id }) => data.get(id));
    const measured = remember(driver.id, [said, ...numbers], () =>
      directionsOf(design, driver, data, condition, frequencyHz),
    );
    const effect = baffleEffectOf(design, driver);
    if (measured.length === 0 && !effect?.modelled) return null;
    const { xMm, yMm, zMm } = driver.position;
    const { listeningDistanceMm, airTemperatureC } = design;
    return rememberToward(
      driver.id,
      [measured, effect, xMm, yMm, zMm, listeningDistanceMm, airTemperatureC],
      () => towardFrom(measured, effect, design, driver, frequencyHz),
    );
  };
}

/**
 * What several drivers send in each direction of the listening window, the axis first; null when
 * that is not known of some driver.
 *
 * @param onAxis of each driver, in their order
 */
export function windowSpectra<T extends GridSpectrum>(
  onAxis: readonly T[],
  towardOf: (voice: T, index: number) => OffAxis | null,
): (readonly GridSpectrum[])[] | null {
  const toward = onAxis.map(towardOf);
  const all = listeningWindow.map((direction) =>
    onAxis.map((voice, v) => toward[v]?.(voice, direction) ?? null),
  );
  const known = all.map((row) => row.filter((voice) => voice !== null));
  return known.some((row) => row.length < onAxis.length) ? null : [onAxis, ...known];
}

function towardFrom(
  measured: readonly MeasuredDirection[],
  effect: BaffleEffect | null,
  design: Design,
  driver: Driver,
  frequencyHz: Float64Array,
): OffAxis {
  const { position } = driver;
  const distanceMm = design.listeningDistanceMm;
  const speed = 1000 * speedOfSoundMps(design.airTemperatureC);
  const axisMm = pathTowardMm(position, distanceMm, { plane: 'horizontal', degrees: 0 });
  const isModelled = (direction: Direction) =>
    levelToward(direction, measured) === null || (effect?.offAxis ?? null) !== null;
  const toward = ({ re, im }: GridSpectrum, direction: Direction): GridSpectrum | null => {
    const levelDb = levelToward(direction, measured);
    const bent = levelDb ? effect?.offAxis?.(direction) : effect?.modelled?.(direction);
    if (!levelDb && !bent) return null;
    const pathMm = pathTowardMm(position, distanceMm, direction);
    const turnPerHz = (-2 * Math.PI * (pathMm - axisMm)) / speed;
    const out = { re: new Float64Array(re.length), im: new Float64Array(re.length) };
    for (let i = 0; i < re.length; i++) {
      const size = (axisMm / pathMm) * (levelDb ? 10 ** (levelDb[i] / 20) : 1);
      const [cos, sin] = [
        size * Math.cos(turnPerHz * frequencyHz[i]),
        size * Math.sin(turnPerHz * frequencyHz[i]),
      ];
      const [x, y] = [re[i] * cos - im[i] * sin, re[i] * sin + im[i] * cos];
      out.re[i] = bent ? x * bent.re[i] - y * bent.im[i] : x;
      out.im[i] = bent ? x * bent.im[i] + y * bent.re[i] : y;
    }
    return out;
  };
  return Object.assign(toward, { isModelled });
}

/** Angles this close to 0 are the axis. */
const axisDeg = 0.5;

/**
 * The directions that a driver was measured in, against its axis: of the same set, or else of its
 * own response.
 */
function directionsOf(
  design: Design,
  { offAxisIds, responseId }: Driver,
  data: MeasurementData,
  condition: Conditioner,
  frequencyHz: Float64Array,
): MeasuredDirection[] {
  const find = (id: string | null) => design.measurements.find((one) => one.id === id);
  /** Level for a volt at a metre; −∞ where nothing was measured. */
  const levelOf = (measurement: Measurement): Float64Array | null => {
    const response = condition(measurement, data);
    if (!response) return null;
    const { re, im } = responseOnGrid(response.samples, frequencyHz);
    const gain = measurement.microphone.distanceMm / 1000 / measurement.driveVolts;
    return re.map((value, i) => 10 * Math.log10(gain * gain * (value * value + im[i] * im[i])));
  };
  const set = offAxisIds.flatMap((id) => {
    const measurement = find(id);
    return measurement?.angle ? [{ measurement, direction: measurement.angle }] : [];
  });
  const ownAxis = set.find(({ direction }) => Math.abs(direction.degrees) < axisDeg)?.measurement;
  const axis = ownAxis ?? find(responseId);
  const axisDb = axis ? levelOf(axis) : null;
  if (!axisDb) return [];
  return set.flatMap(({ measurement, direction }) => {
    if (Math.abs(direction.degrees) < axisDeg) return [];
    const level = levelOf(measurement);
    if (!level) return [];
    // Where either was not measured the driver counts as even all around: below the gate it nearly
    // is.
    const levelDb = level.map((db, i) => (Number.isFinite(db - axisDb[i]) ? db - axisDb[i] : 0));
    return [{ direction, levelDb }];
  });
}
