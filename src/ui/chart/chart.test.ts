import { nearestIndex } from '@/core/grid/nearest';
import { frequencyTicks, linePath, placesOf, shortHz } from './curve';
import { curvesCsv } from './chartFiles';
import { lengthScale, levelScale, ohmScale, valueTicks, zoomed } from './window';

const grid = Float64Array.of(20, 200, 2000, 20_000);

test('a line has a gap where there is no value', () => {
  const places = placesOf(grid, (hz) => Math.log10(hz / 20));
  const path = linePath(places, Float64Array.of(1, -Infinity, 3.04, 4), (v) => v);
  expect(path).toBe('M0 1M2 3L3 4');
});

test('the nearest frequency is the nearest by ratio', () => {
  expect([10, 60, 64, 1999, 1e6].map((hz) => nearestIndex(grid, hz))).toEqual([0, 0, 1, 2, 3]);
});

test('ticks are 1-2-5', () => {
  expect(frequencyTicks(20, 20_000)).toEqual([
    20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000,
  ]);
  expect([50, 1000, 20_000].map(shortHz)).toEqual(['50', '1k', '20k']);
  expect(valueTicks(50, 100)).toEqual([50, 60, 70, 80, 90, 100]);
  expect(valueTicks(0, 30)).toEqual([0, 5, 10, 15, 20, 25, 30]);
});

test('zooming keeps the proportion of IEC 60263 and stays inside', () => {
  const full = { fromHz: 20, toHz: 20_000, bottom: 50, top: 100 };
  expect(zoomed(full, { factor: 1, centreHz: 1000, centreValue: 80 })).toBe(full);
  for (const [centreHz, centreValue] of [
    [1000, 80],
    [20, 50],
    [20_000, 100],
  ]) {
    const view = zoomed(full, { factor: 2, centreHz, centreValue });
    expect(Math.log10(view.toHz / view.fromHz)).toBeCloseTo(1.5, 12);
    expect(view.top - view.bottom).toBe(25);
    expect(view.fromHz).toBeGreaterThanOrEqual(20 - 1e-9);
    expect(view.toHz).toBeLessThanOrEqual(20_000 + 1e-6);
    expect(view.bottom).toBeGreaterThanOrEqual(50);
    expect(view.top).toBeLessThanOrEqual(100);
  }
});

test('curves leave as CSV with their units', () => {
  const phase = { id: 'phase', label: 'phase', colour: '', axis: 'right' as const };
  const curves = [
    { id: 'sum', label: 'sum', values: Float64Array.of(1, 2, 3, 4), colour: '' },
    { id: 'odd', label: 'way "x", 2', values: Float64Array.of(5, 6, 7, 8), colour: '' },
    { id: 'sly', label: '=1+1', values: Float64Array.of(9, 9, 9, 9), colour: '' },
    { ...phase, values: Float64Array.of(-90, 0, 0, 0) },
  ];
  expect(curvesCsv(grid, curves, { left: 'dB', right: '°' }).split('\n').slice(0, 2)).toEqual([
    'frequency_Hz,sum (dB),"way ""x"", 2 (dB)",\'=1+1 (dB),phase (°)',
    '20,1,5,9,-90',
  ]);
});

test('scales are round, hold the curve and do not change for small changes', () => {
  expect(levelScale([60, 88, -Infinity])).toEqual({ bottom: 40, top: 90 });
  expect(levelScale([88.1])).toEqual({ bottom: 50, top: 100 });
  expect(levelScale([])).toEqual({ bottom: 50, top: 100 });
  expect(ohmScale([4, 41, NaN])).toEqual({ bottom: 0, top: 50 });
  expect(ohmScale([12_000])).toEqual({ bottom: 0, top: 10_000 });
});

test.each([
  [[0.08, 0.3, NaN], 0.5],
  [[13.9, 6.5], 20],
  [[2], 2],
  [[], 1e-3],
])('lengths %j fit under %d', (lengths, top) =>
  expect(lengthScale(lengths)).toEqual({ bottom: 0, top: expect.closeTo(top, 9) as number }),
);
