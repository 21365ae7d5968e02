import type { Direction } from './direction';
import { energiesDb } from '@/core/spectrum/level';

/**
 * Averages after ANSI/CTA-2034-A (from memory): every one is a mean of squared pressures over the 70
 * directions of two orbits at 10°. Where the standard can be read in several ways: the reflection
 * sets and the weights of the sound power are those of `tests/references/cta2034/SOURCE.md`, main
 * column; the rear wall is heard over 19 directions, the on-axis response owns its whole zone.
 */

/** The 70 directions: the horizontal orbit from −170° to 180°, the vertical one without its poles. */
export const spinDirections: readonly Direction[] = [
  ...Array.from({ length: 36 }, (_, i): Direction => ({
    plane: 'horizontal',
    degrees: 10 * i - 170,
  })),
  ...Array.from({ length: 36 }, (_, i): Direction => ({
    plane: 'vertical',
    degrees: 10 * i - 170,
  })).filter(({ degrees }) => degrees !== 0 && degrees !== 180),
];

/** Place of a direction among the 70; poles are the same on both orbits. */
function placeOf({ plane, degrees }: Direction): number {
  const isPole = degrees === 0 || Math.abs(degrees) === 180;
  const turned = degrees === -180 ? 180 : degrees;
  return spinDirections.findIndex(
    (one) => one.degrees === turned && (isPole || one.plane === plane),
  );
}

/** Place of the axis among the 70. */
export const axisPlace = placeOf({ plane: 'horizontal', degrees: 0 });

const around = (plane: Direction['plane'], ...degrees: readonly number[]): Direction[] =>
  degrees.map((one) => ({ plane, degrees: one }));
const bothSides = (...degrees: readonly number[]) =>
  degrees.flatMap((one) => (one === 0 || one === 180 ? [one] : [-one, one]));
const tens = (from: number, to: number) =>
  Array.from({ length: (to - from) / 10 + 1 }, (_, i) => from + 10 * i);

/** The listening window besides the axis itself. */
export const listeningWindow: readonly Direction[] = [
  ...around('horizontal', -30, -20, -10, 10, 20, 30),
  ...around('vertical', -10, 10),
];

/** Directions of the five first reflections. */
const reflections = {
  floor: around('vertical', -20, -30, -40),
  ceiling: around('vertical', 40, 50, 60),
  frontWall: around('horizontal', ...bothSides(...tens(0, 30))),
  sideWall: around('horizontal', ...bothSides(...tens(40, 80))),
  rearWall: around('horizontal', ...bothSides(...tens(90, 180))),
} as const;

export type Reflection = keyof typeof reflections;
export const reflectionNames = Object.keys(reflections) as Reflection[];

/** Weights over the 70 directions; they add up to 1. */
type Weights = Float64Array;

function evenly(directions: readonly Direction[]): Weights {
  const weights = new Float64Array(spinDirections.length);
  for (const direction of directions) weights[placeOf(direction)] += 1 / directions.length;
  return weights;
}

function mixed(parts: readonly (readonly [number, Weights])[]): Weights {
  return spinDirections.reduce((weights, _, d) => {
    for (const [share, own] of parts) weights[d] += share * own[d];
    return weights;
  }, new Float64Array(spinDirections.length));
}

/**
 * Area of the zone of each direction over that of the sphere: the orbits' planes and those at 45°
 * between cut the sphere into sectors, which are cut again midway between the measured angles.
 */
function zones(): Weights {
  const half = (degrees: number) => Math.asin(Math.cos((degrees * Math.PI) / 180) / Math.SQRT2);
  const patch = (from: number, to: number) => (2 * (half(from) - half(to))) / (4 * Math.PI);
  return Float64Array.from(spinDirections, ({ degrees }) => {
    const off = Math.abs(degrees);
    if (off === 0) return 4 * patch(0, 5);
    return off === 180 ? 4 * patch(175, 180) : patch(off - 5, off + 5);
  });
}

const parts = Object.fromEntries(
  reflectionNames.map((name) => [name, evenly(reflections[name])]),
) as Record<Reflection, Weights>;
const windowWeights = evenly([{ plane: 'horizontal', degrees: 0 }, ...listeningWindow]);
const earlyWeights = mixed(reflectionNames.map((name) => [1 / 5, parts[name]] as const));
const powerWeights = zones();

/** Weight of each direction in each mean. */
export const spinWeights = {
  listeningWindow: windowWeights,
  ...parts,
  earlyReflections: earlyWeights,
  soundPower: powerWeights,
  /** 12 % listening window, 44 % early reflections, 44 % sound power. */
  inRoom: mixed([
    [0.12, windowWeights],
    [0.44, earlyWeights],
    [0.44, powerWeights],
  ]),
} as const satisfies Record<string, Weights>;

export type SpinMean = keyof typeof spinWeights;
export const spinMeans = Object.keys(spinWeights) as SpinMean[];

/** The standard's curves, dB, over frequency. */
export interface SpinCurves extends Readonly<Record<SpinMean, Float64Array>> {
  readonly onAxis: Float64Array;
  /** Directivity index of the sound power, and of the early reflections: listening window over each. */
  readonly soundPowerIndex: Float64Array;
  readonly earlyReflectionsIndex: Float64Array;
}

/** @param levelsDb of each of the 70 directions, over one frequency grid */
export function spinCurvesOf(levelsDb: readonly Float64Array[]): SpinCurves {
  const energies = levelsDb.map((levels) => levels.map((db) => 10 ** (db / 10)));
  const points = levelsDb[0].length;
  const mean = (weights: Weights): Float64Array => {
    const sum = new Float64Array(points);
    energies.forEach((energy, d) => {
      const weight = weights[d];
      if (weight !== 0) for (let i = 0; i < points; i++) sum[i] += weight * energy[i];
    });
    return energiesDb(sum);
  };
  const means = Object.fromEntries(
    spinMeans.map((name) => [name, mean(spinWeights[name])]),
  ) as Record<SpinMean, Float64Array>;
  return { ...means, onAxis: levelsDb[axisPlace], ...indicesOf(means) };
}

/** Directivity indices from the means. */
export const indicesOf = ({
  listeningWindow: window,
  soundPower,
  earlyReflections,
}: Pick<
  Record<SpinMean, Float64Array>,
  'listeningWindow' | 'soundPower' | 'earlyReflections'
>) => ({
  soundPowerIndex: window.map((db, i) => db - soundPower[i]),
  earlyReflectionsIndex: window.map((db, i) => db - earlyReflections[i]),
});
