import { readDemo, withoutBaffle, withoutOrbits, withOffAxis } from '../../../tests/fixtures';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { logGrid } from '@/core/grid/logGrid';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import { headingOf, straight, type Direction } from '@/core/radiation/direction';
import { pathToMm, pointAtMm } from '@/core/radiation/path';
import { pistonDirectivity } from '@/core/radiation/piston';
import { createBaffleEffect } from './baffleEffect';
import { createConditioner } from './conditioner';
import { createOffAxis } from './offAxisInputs';
import { applyChange } from '@/core/editing/applyChange';

const demo = readDemo();
const plain = { ...demo, design: withoutBaffle(demo.design) };
const { design, data } = withOffAxis(plain.design, plain.data);
const frequencyHz = logGrid(200, 16_000, 12);
const offAxis = createOffAxis(frequencyHz, createConditioner(), createBaffleEffect(frequencyHz));
const [, midrange] = design.drivers;
const even = {
  re: frequencyHz.map(() => 1),
  im: frequencyHz.map(() => 0),
};
const to = (plane: Direction['plane'], degrees: number) => headingOf({ plane, degrees });
const level = ({ re, im }: GridSpectrum, i: number) => 20 * Math.log10(Math.hypot(re[i], im[i]));

test('a driver sends in a direction what was measured there, over the path there', () => {
  const there = offAxis(design, midrange, data)!(even, to('horizontal', 30))!.spectrum;
  const { position } = midrange;
  const [axisMm, pathMm] = [headingOf(straight), to('horizontal', 30)].map((one) =>
    pathToMm(position, pointAtMm(one, design.listeningDistanceMm)),
  );
  const radiusM = Math.sqrt(midrange.sheet.sdCm2! / 1e4 / Math.PI);
  frequencyHz.forEach((hz, i) => {
    const x = ((2 * Math.PI * hz) / 343) * radiusM * 0.5;
    // Where the piston has its nulls a level means little.
    const expected = 20 * Math.log10(Math.abs(pistonDirectivity(x)) * (axisMm / pathMm));
    if (expected > -20) expect(Math.abs(level(there, i) - expected)).toBeLessThan(0.3);
    const turns =
      (hz * (pathMm - axisMm)) / 1000 / speedOfSoundMps(design.airTemperatureC) +
      Math.atan2(there.im[i], there.re[i]) / (2 * Math.PI);
    expect(Math.abs(turns - Math.round(turns))).toBeLessThan(1e-9);
  });
});

test('a side and a plane that were not measured follow those that were', () => {
  const toward = offAxis(design, midrange, data)!;
  const [right, left, up] = [to('horizontal', 20), to('horizontal', -20), to('vertical', 20)].map(
    (heading) => toward(even, heading)!.spectrum,
  );
  expect(toward(even, to('horizontal', 20))!.source).toBe('measured');
  expect(toward(even, to('horizontal', -20))!.source).toBe('interpolated');
  // The driver is on the middle line, so that left and right are alike; up has another
  // path, not another directivity.
  frequencyHz.forEach((_, i) => {
    expect(level(left, i)).toBeCloseTo(level(right, i), 9);
    expect(Math.abs(level(up, i) - level(right, i))).toBeLessThan(1.5);
  });
  expect(toward(even, to('horizontal', 60))).toBeNull();
});

test('drive and distance of a measurement do not count, its own axis is the reference', () => {
  const loud = new Map(
    [...data].map(([id, samples]) =>
      midrange.offAxisIds.includes(id)
        ? [id, { ...samples, magnitude: samples.magnitude.map((db) => db + 20 * Math.log10(4)) }]
        : [id, samples],
    ),
  );
  const restated = midrange.offAxisIds.reduce(
    (before, id) =>
      applyChange(before, { type: 'editMeasurement', id, set: { driveVolts: 4 * 2.83 } }),
    design,
  );
  const heading = to('horizontal', 20);
  const before = offAxis(design, midrange, data)!(even, heading)!.spectrum;
  const after = offAxis(restated, midrange, loud)!(even, heading)!.spectrum;
  frequencyHz.forEach((_, i) => expect(level(after, i)).toBeCloseTo(level(before, i), 6));
});

test('without off-axis measurements, or without their numbers, nothing is known', () => {
  expect(offAxis(plain.design, plain.design.drivers[1], plain.data)).toBeNull();
  expect(offAxis(design, midrange, plain.data)).toBeNull();
  expect(offAxis(design, { ...midrange, responseId: null }, data)).toBeNull();
});

test('beyond what was measured the model goes on from there, and says so', () => {
  const { design: mounted, data: numbers } = withOffAxis(withoutOrbits(demo.design), demo.data);
  const toward = offAxis(mounted, mounted.drivers[1], numbers)!;
  const [edge, beyond, up] = [to('horizontal', 30), to('horizontal', 32), to('vertical', 30)].map(
    (heading) => toward(even, heading)!,
  );
  expect([edge.source, beyond.source, up.source]).toEqual(['measured', 'modelled', 'modelled']);
  // Above, a null of the piston comes near.
  frequencyHz.forEach((hz, i) => {
    if (hz < 5000)
      expect(Math.abs(level(beyond.spectrum, i) - level(edge.spectrum, i))).toBeLessThan(1);
  });
  // The model knows that the front is higher than wide.
  const apart = frequencyHz.map((_, i) =>
    Math.abs(level(up.spectrum, i) - level(edge.spectrum, i)),
  );
  expect(Math.max(...apart)).toBeGreaterThan(0.5);
});

test('phases count where all share one time reference, and only there', () => {
  const shifted = new Map(
    [...data].map(([id, samples]) =>
      midrange.offAxisIds.includes(id)
        ? [
            id,
            {
              ...samples,
              phaseDeg: samples.phaseDeg!.map((phase, i) => phase - 0.02 * samples.frequencyHz[i]),
            },
          ]
        : [id, samples],
    ),
  );
  const turnOf = (one: typeof design, numbers: typeof shifted) => {
    const { re, im } = offAxis(one, midrange, numbers)!(even, to('horizontal', 20))!.spectrum;
    return Math.atan2(im[0], re[0]);
  };
  const before = turnOf(design, new Map(data));
  // 0.02° a hertz at 200 Hz.
  expect(((before - turnOf(design, shifted)) * 180) / Math.PI).toBeCloseTo(4, 1);
  const apart = midrange.offAxisIds.reduce((one, id) => {
    const { microphone } = one.measurements.find((measurement) => measurement.id === id)!;
    return applyChange(one, {
      type: 'editMeasurement',
      id,
      set: { microphone: { ...microphone, commonTiming: false } },
    });
  }, design);
  expect(turnOf(apart, shifted)).toBeCloseTo(turnOf(apart, new Map(data)), 9);
});

test('nearer to the speaker a driver that lies aside is louder on its side', () => {
  const toward = offAxis(design, midrange, data)!;
  const [near, far] = [600, 6000].map((distanceMm) => {
    const down = toward(even, to('vertical', -20), distanceMm)!.spectrum;
    const up = toward(even, to('vertical', 20), distanceMm)!.spectrum;
    return level(down, 0) - level(up, 0);
  });
  // By hand: 78 mm below the axis, at 0.6 m.
  const path = (degrees: number) =>
    pathToMm(midrange.position, pointAtMm(to('vertical', degrees), 600));
  expect(near).toBeCloseTo(20 * Math.log10(path(20) / path(-20)), 6);
  expect(far).toBeLessThan(0.25 * near);
});
