/**
 * What orbits that were measured in part say of the rest, for a driver that is not in the middle of
 * its front: against boundary elements (`diffraction/README.md`, case O1 with its side up laid to the
 * right), which also stand for the measurements.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { rectangularCorners } from '@/core/document/baffleSchema';
import type { Design, Measurement } from '@/core/document/schema';
import { samplesId, type MeasurementData, type Samples } from '@/core/measurement/samples';
import { createBaffleEffect } from '@/core/prediction/baffleEffect';
import { createConditioner } from '@/core/prediction/conditioner';
import { createOffAxis } from '@/core/prediction/offAxisInputs';
import { headingOf } from '@/core/radiation/direction';
import { designOn, frontOf, mountedDriver } from '../baffles';
import { measurementStatement } from '../fixtures';

const rows = readFileSync(join(import.meta.dirname, 'diffraction/O1_2m.csv'), 'utf8')
  .trim()
  .split('\n')
  .slice(1)
  .map((line) => line.split(','))
  .map(([hz, plane, deg, db, phase]) => ({
    ...{ hz: Number(hz), plane, deg: Number(deg), db: Number(db), phase: Number(phase) },
  }))
  .filter(({ plane }) => plane === 'v');
const frequencyHz = Float64Array.from(rows.filter(({ deg }) => deg === 0), ({ hz }) => hz);
/** Two metres away at 343 m/s, which those numbers have taken out. */
const flightDeg = (hz: number) => (-360 * hz * 2) / 343;

function measuredAt(deg: number): Samples {
  const own = rows.filter((row) => row.deg === deg);
  return {
    frequencyHz,
    magnitude: Float64Array.from(own, ({ db }) => db + 80),
    phaseDeg: Float64Array.from(own, ({ hz, phase }) => phase + flightDeg(hz)),
  };
}

/** A driver 90 mm right of the middle of a front of 320 × 200 mm, measured in some directions. */
function measuredIn(degrees: readonly number[]): { design: Design; data: MeasurementData } {
  const data = new Map<string, Samples>();
  const take = (deg: number, set: Partial<Measurement> = {}): Measurement => {
    const samples = measuredAt(deg);
    const id = samplesId(samples);
    data.set(id, samples);
    return {
      ...measurementStatement(id, 'response'),
      microphone: { placement: 'own-axis', distanceMm: 2000, commonTiming: true },
      ...set,
    };
  };
  const axis = take(0);
  const set = degrees.map((deg) => take(deg, { angle: { plane: 'horizontal', degrees: deg } }));
  const front = frontOf(320, 200, { corners: rectangularCorners(-250, -100, 320, 200) });
  const { kind, corners, depthMm, thicknessMm, wingsMm } = front;
  const on: Measurement['measuredOn'] = {
    ...{ kind: 'baffle', setBackMm: 0, xMm: 0, yMm: 0 },
    body: { kind, corners, depthMm, thicknessMm, wingsMm },
    mounting: { kind: 'flush', byMm: 0, frameMm: null, mouthMm: null },
  };
  const driver = mountedDriver('dome', 0, 0, {}, Math.PI * 1.2 ** 2);
  return {
    data,
    design: {
      ...designOn(front, {
        ...driver,
        responseId: axis.id,
        offAxisIds: set.map(({ id }) => id),
      }),
      airTemperatureC: 20,
      measurements: [axis, ...set].map((one) => ({ ...one, measuredOn: on })),
    },
  };
}

/** Errors of a direction against boundary elements, dB, from 1 to 8 kHz. */
function errors(degrees: readonly number[], deg: number) {
  const { design, data } = measuredIn(degrees);
  const offAxis = createOffAxis(frequencyHz, createConditioner(), createBaffleEffect(frequencyHz));
  const even = { re: frequencyHz.map(() => 1), im: frequencyHz.map(() => 0) };
  const found = offAxis(design, design.drivers[0], data)!(
    even,
    headingOf({ plane: 'horizontal', degrees: deg }),
  )!;
  const [axis, there] = [0, deg].map((one) => measuredAt(one).magnitude);
  const off = [...frequencyHz.keys()]
    .filter((i) => frequencyHz[i] > 1000 && frequencyHz[i] < 8000)
    .map((i) => {
      const level = 20 * Math.log10(Math.hypot(found.spectrum.re[i], found.spectrum.im[i]));
      return Math.abs(level - (there[i] - axis[i]));
    });
  const mean = off.reduce((sum, one) => sum + one, 0) / off.length;
  return { mean, worst: Math.max(...off), source: found.source };
}

const right = [15, 30, 45, 60, 75, 90];

test.each([
  [15, 0.1, 0.25],
  [30, 0.15, 0.4],
  [45, 0.15, 0.5],
  [60, 0.25, 0.8],
])('the left at %i° from the right half: mean %d dB, worst %d dB', (deg, mean, worst) => {
  const found = errors(right, -deg);
  expect([found.mean < mean, found.worst < worst, found]).toEqual([true, true, found]);
  // It was not measured: it is told as modelled.
  expect(found.source).toBe('modelled');
});

test.each([15, -15, 45, -45])('between steps of 30°, at %i°, better than the model alone', (deg) => {
  const stepped = errors([-90, -60, -30, 30, 60, 90], deg);
  const model = errors([], deg);
  expect([stepped.worst < 0.35, stepped.worst, stepped.source]).toEqual([
    true,
    stepped.worst,
    'interpolated',
  ]);
  expect(stepped.mean).toBeLessThanOrEqual(model.mean + 0.01);
});

test.each([-15, -30, -45, -60, -90])('half an orbit is no worse than the model alone at %i°', (deg) => {
  expect(errors(right, deg).mean).toBeLessThanOrEqual(errors([], deg).mean + 0.05);
});
