import { readDemo } from '../../../tests/fixtures';
import { createPredictor } from '@/core/prediction/predict';
import type { Design } from '@/core/document/schema';
import { crossoverReports } from '@/core/insight/crossoverReports';
import { waySpacing } from './waySpacing';

const { design, data } = readDemo();
const placed: Design = {
  ...design,
  drivers: design.drivers.map((driver, d) => ({
    ...driver,
    position: { xMm: 0, yMm: [-245, 0, 140][d], zMm: 0 },
  })),
};

test('the drivers of a crossover are as far apart as on the front, in waves of its frequency', () => {
  const reports = crossoverReports(createPredictor()(placed, data));
  expect(reports).toHaveLength(2);
  reports.forEach((report, k) => {
    const { vertical: found, horizontal } = waySpacing(placed, report)!;
    expect(horizontal).toBeNull();
    expect(found.apartM).toBeCloseTo([0.245, 0.14][k], 9);
    expect(found.waves).toBeCloseTo((found.apartM * report.atHz) / 343.2, 2);
  });
});

test('where nobody said where they are nothing is told', () => {
  const [report] = crossoverReports(createPredictor()(placed, data));
  const heaped = {
    ...placed,
    drivers: placed.drivers.map((one) => ({ ...one, position: { xMm: 0, yMm: 0, zMm: 0 } })),
  };
  expect(waySpacing(heaped, report)).toBeNull();
});

test('the path difference is that to the ears, wherever they are against the axis', () => {
  const [, report] = crossoverReports(createPredictor()(placed, data));
  const above = (earHeightMm: number) => {
    const design = { ...placed, axisHeightMm: 950, earHeightMm, listeningDistanceMm: 2000 };
    return waySpacing(design, report)!.vertical.pathM;
  };
  // From 140 mm and from 0 mm up to ears 300 mm above the axis, 2 m away.
  expect(above(1250)).toBeCloseTo(Math.hypot(0.16, 2) - Math.hypot(0.3, 2), 9);
  expect(above(950)).toBeCloseTo(Math.hypot(0.14, 2) - 2, 9);
});

test('a way with two drivers counts from its middle, and drivers beside each other across', () => {
  const [report] = crossoverReports(createPredictor()(placed, data));
  const [, midrange] = placed.drivers;
  const beside = { ...midrange, id: 'beside', position: { xMm: 120, yMm: 0, zMm: 0 } };
  const doubled = {
    ...placed,
    drivers: [...placed.drivers, beside],
    ways: placed.ways.map((way, w) =>
      w === 1 ? { ...way, ends: [...way.ends, { ...way.ends[0], driverId: 'beside' }] } : way,
    ),
  };
  const { vertical, horizontal } = waySpacing(doubled, report)!;
  expect(vertical.apartM).toBeCloseTo(Math.hypot(0.245, 0.06), 9);
  expect(horizontal!.apartM).toBeCloseTo(vertical.apartM, 9);
});
