import { readDemo, withoutBaffle, withOffAxis } from '../../../tests/fixtures';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { logGrid } from '@/core/grid/logGrid';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import { pathTowardMm } from '@/core/radiation/path';
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
const level = ({ re, im }: GridSpectrum, i: number) => 20 * Math.log10(Math.hypot(re[i], im[i]));

test('a driver sends in a direction what was measured there, over the path there', () => {
  const direction = { plane: 'horizontal', degrees: 30 } as const;
  const there = offAxis(design, midrange, data)!(even, direction)!;
  const { position } = midrange;
  const [axisMm, pathMm] = [{ plane: 'horizontal', degrees: 0 } as const, direction].map((one) =>
    pathTowardMm(position, design.listeningDistanceMm, one),
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
  const [right, left, up] = (
    [
      { plane: 'horizontal', degrees: 20 },
      { plane: 'horizontal', degrees: -20 },
      { plane: 'vertical', degrees: 20 },
    ] as const
  ).map((direction) => toward(even, direction)!);
  // The driver is on the middle line, so that left and right are alike; up has another
  // path, not another directivity.
  frequencyHz.forEach((_, i) => {
    expect(level(left, i)).toBeCloseTo(level(right, i), 9);
    expect(Math.abs(level(up, i) - level(right, i))).toBeLessThan(1.5);
  });
  expect(toward(even, { plane: 'horizontal', degrees: 60 })).toBeNull();
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
  const direction = { plane: 'horizontal', degrees: 20 } as const;
  const before = offAxis(design, midrange, data)!(even, direction)!;
  const after = offAxis(restated, midrange, loud)!(even, direction)!;
  frequencyHz.forEach((_, i) => expect(level(after, i)).toBeCloseTo(level(before, i), 6));
});

test('without off-axis measurements, or without their numbers, nothing is known', () => {
  expect(offAxis(plain.design, plain.design.drivers[1], plain.data)).toBeNull();
  expect(offAxis(design, midrange, plain.data)).toBeNull();
  expect(offAxis(design, { ...midrange, responseId: null }, data)).toBeNull();
});
