import { logGrid } from '@/core/grid/logGrid';
import { samplesId, type Samples } from '@/core/measurement/samples';
import { spinCurvesOf, spinDirections } from '@/core/radiation/cta2034';
import { headingOf } from '@/core/radiation/direction';
import { emptyDesign, emptyDriver, endAt, plainWay, type Design } from '@/core/document/schema';
import { measurementStatement, readDemo, withoutBaffle } from '../../../tests/fixtures';
import { createBaffleEffect } from './baffleEffect';
import { createConditioner } from './conditioner';
import { levelDbOf } from './derived';
import { createOffAxis } from './offAxisInputs';
import { createPredictor } from './predict';

const demo = readDemo();
const plain = { ...demo, design: withoutBaffle(demo.design) };

test('without orbits nothing is known off the axis', () => {
  const { window, spin, due } = createPredictor()(plain.design, plain.data).offAxis;
  expect([window, spin, due]).toEqual([null, null, null]);
});

test('the means of one driver are its energies over the directions, whatever is before it', () => {
  const grid = logGrid(200, 10_000, 6);
  const { design, data } = demo;
  const way = design.ways[1];
  const predict = createPredictor(grid);
  const alone = predict({ ...design, ways: [way] }, data);
  const toward = createOffAxis(grid, createConditioner(), createBaffleEffect(grid))(
    design,
    design.drivers[1],
    data,
  )!;
  const levels = spinDirections.map((direction) =>
    levelDbOf(toward(alone.sum!.pressure, headingOf(direction))!.spectrum),
  );
  const expected = spinCurvesOf(levels);
  const apart = (a: Float64Array, b: Float64Array) =>
    Math.max(...a.map((db, i) => Math.abs(db - b[i])));
  const { window, spin } = alone.offAxis;
  expect(apart(window!.levelDb, expected.listeningWindow)).toBeLessThan(1e-9);
  for (const mean of ['soundPower', 'earlyReflections', 'inRoom', 'soundPowerIndex'] as const)
    expect(apart(spin![mean], expected[mean])).toBeLessThan(1e-9);
  // A changed network is a changed window: nothing stale is kept, and the index stays.
  const bare = predict({ ...design, ways: [{ ...way, parts: [] }] }, data);
  expect(apart(bare.offAxis.window!.levelDb, window!.levelDb)).toBeGreaterThan(1);
  expect(apart(bare.offAxis.spin!.soundPowerIndex, spin!.soundPowerIndex)).toBeLessThan(1e-9);
});

test('curves need not wait for what would have to be worked out anew', () => {
  const predict = createPredictor(logGrid(100, 10_000, 3));
  const { design, data } = demo;
  const first = predict(design, data, { offAxis: 'known' });
  expect(first.offAxis).toEqual({ window: null, spin: null, places: [], due: 'window' });
  const second = predict(design, data, { offAxis: 'window' });
  expect([second.offAxis.spin, second.offAxis.due]).toEqual([null, 'whole']);
  const whole = predict(design, data);
  expect(whole.sum!.levelDb).toEqual(first.sum!.levelDb);
  expect(whole.offAxis.window).toEqual(second.offAxis.window);
  expect(whole.offAxis.due).toBeNull();
  // From then on it comes along with the curves.
  expect(predict(design, data, { offAxis: 'known' }).offAxis).toEqual(whole.offAxis);
});

/** A driver that was measured at 0, 90 and 180° with these levels, on its own axis. */
function turning(
  levels: readonly [number, number, number],
  aim: { yawDeg: number; pitchDeg: number },
) {
  const frequencyHz = logGrid(100, 10_000, 3);
  const of = (db: number): Samples => ({
    frequencyHz,
    magnitude: frequencyHz.map((_, i) => db + 0.01 * i),
    phaseDeg: frequencyHz.map(() => 0),
  });
  const numbers = levels.map(of);
  const load = of(18);
  const ids = numbers.map(samplesId);
  const microphone = { placement: 'own-axis', distanceMm: 1000, commonTiming: false } as const;
  const driver = {
    ...emptyDriver('one', 'One'),
    ...{ responseId: ids[0], impedanceId: samplesId(load), offAxisIds: ids.slice(1), aim },
  };
  const design: Design = {
    ...emptyDesign('Turned'),
    listeningDistanceMm: 50_000,
    measurements: [
      ...ids.map((id, k) => ({
        ...measurementStatement(id, 'response'),
        microphone,
        angle: { plane: 'horizontal' as const, degrees: 90 * k },
      })),
      measurementStatement(samplesId(load), 'impedance'),
    ],
    drivers: [driver],
    ways: [{ ...plainWay, id: 'way', name: 'One', ends: [endAt('one')] }],
  };
  const data = new Map([...ids.map((id, k) => [id, numbers[k]] as const), [samplesId(load), load]]);
  return { design, data, frequencyHz };
}

test('a driver that points to the rear, to the side or up is heard from where it does not point', () => {
  const levels = [90, 84, 70] as const;
  const level = (aim: { yawDeg: number; pitchDeg: number }) => {
    const { design, data, frequencyHz } = turning(levels, aim);
    return createPredictor(frequencyHz)(design, data).sum!.levelDb[5];
  };
  const ahead = level({ yawDeg: 0, pitchDeg: 0 });
  expect(level({ yawDeg: 180, pitchDeg: 0 })).toBeCloseTo(ahead - 20, 2);
  expect(level({ yawDeg: -90, pitchDeg: 0 })).toBeCloseTo(ahead - 6, 2);
  expect(level({ yawDeg: 0, pitchDeg: 90 })).toBeCloseTo(ahead - 6, 2);
});

test('what points to the rear sends its front to the rear', () => {
  const { design, data, frequencyHz } = turning([90, 84, 70], { yawDeg: 180, pitchDeg: 0 });
  const angled = {
    ...design,
    promises: [
      {
        ...{ id: 'behind', kind: 'angle' as const, isOff: false, atLeast: null, atMost: 3 },
        ...{ fromHz: null, toHz: null, weight: null },
        angle: { plane: 'horizontal' as const, degrees: 180 },
      },
    ],
  };
  const { sum, offAxis } = createPredictor(frequencyHz)(angled, data);
  expect(offAxis.places).toHaveLength(1);
  expect(offAxis.places[0].levelDb[5] - sum!.levelDb[5]).toBeCloseTo(20, 2);
});
