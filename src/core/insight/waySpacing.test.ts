import { readDemo } from '../../../tests/fixtures';
import { createPredictor } from '@/core/prediction/predict';
import type { Design } from '@/core/document/schema';
import { crossoverReports } from './crossoverReports';
import { waySpacing } from './waySpacing';

const { design, data } = readDemo();
const placed: Design = {
  ...design,
  drivers: design.drivers.map((driver, d) => ({
    ...driver,
    position: { xMm: 0, yMm: [-245, 0, 140][d], zMm: 0 },
  })),
};

test('the drivers of a crossover are as far apart as they stand, in waves of its frequency', () => {
  const reports = crossoverReports(createPredictor()(placed, data));
  expect(reports).toHaveLength(2);
  reports.forEach((report, k) => {
    const found = waySpacing(placed, report)!;
    expect(found.apartM).toBeCloseTo([0.245, 0.14][k], 9);
    expect(found.waves).toBeCloseTo((found.apartM * report.atHz) / 343.2, 2);
  });
});

test('where nobody said where they are, or a way has two drivers, nothing is told', () => {
  const [report] = crossoverReports(createPredictor()(placed, data));
  const heaped = {
    ...placed,
    drivers: placed.drivers.map((one) => ({ ...one, position: { xMm: 0, yMm: 0, zMm: 0 } })),
  };
  expect(waySpacing(heaped, report)).toBeNull();
  const doubled = {
    ...placed,
    ways: placed.ways.map((way) => ({ ...way, ends: [...way.ends, ...way.ends] })),
  };
  expect(waySpacing(doubled, report)).toBeNull();
});
