/**
 * Sources: Linkwitz 1976 (fourth-order Linkwitz–Riley slopes sum to an all-pass, both −6 dB and in
 * phase everywhere); Butterworth slopes of third order sum flat either way round (Small 1971).
 */
import { readDemo } from '../../../tests/fixtures';
import type { Design, Way } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { levelDbOf } from '@/core/prediction/derived';
import { createPredictor } from '@/core/prediction/predict';
import type { Prediction, WayPrediction } from '@/core/prediction/prediction';
import { createActiveFilters, plainActiveWay, type ActiveWay } from './activeFilters';

const { design: demo, data } = readDemo();
const frequencyHz = logGrid(20, 20_000, 24);

/** Flat drivers of some level and lateness behind networks that do what they like. */
function flatDrivers(
  drivers: readonly {
    readonly gainDb: number;
    readonly lateMs: number;
    readonly target: Way['target'];
  }[],
  polarity: Way['polarity'] = 'normal',
) {
  const ways = drivers.map(({ target }, w): Way => ({ ...demo.ways[w], polarity, target }));
  const predicted = drivers.map(({ gainDb, lateMs }, w): WayPrediction => {
    const voltage = {
      re: frequencyHz.map((hz) => 1 / (1 + hz / 900) + 0.01),
      im: frequencyHz.map((hz) => -(w + 1) * 0.3 * Math.sin(hz / 3000)),
    };
    const size = ((polarity === 'reversed' ? -1 : 1) * 10 ** (gainDb / 20)) / demo.amplifier.volts;
    const turn = (hz: number) => (-2 * Math.PI * hz * lateMs) / 1000;
    const pressure = {
      re: frequencyHz.map(
        (hz, i) => size * (voltage.re[i] * Math.cos(turn(hz)) - voltage.im[i] * Math.sin(turn(hz))),
      ),
      im: frequencyHz.map(
        (hz, i) => size * (voltage.re[i] * Math.sin(turn(hz)) + voltage.im[i] * Math.cos(turn(hz))),
      ),
    };
    const levelDb = levelDbOf(pressure);
    const range = { middleOctaves: w, fsHz: null, sdCm2: null };
    return { wayId: ways[w].id, range, pressure, levelDb, voltage, gaps: [] };
  });
  const design: Design = { ...demo, ways };
  const prediction: Prediction = { ...createPredictor(frequencyHz)(demo, data), ways: predicted };
  return { design, filters: createActiveFilters(design, prediction)! };
}

const slope = (alignment: 'linkwitz-riley' | 'butterworth', order: 3 | 4, hz: number) => ({
  alignment,
  order,
  hz,
});
const pair = (one: ReturnType<typeof slope>) => [
  { gainDb: 0, lateMs: 0, target: { highPass: null, lowPass: one } },
  { gainDb: 0, lateMs: 0, target: { highPass: one, lowPass: null } },
];

test('Linkwitz–Riley slopes of fourth order sum flat, and nothing is lost between them', () => {
  for (const polarity of ['normal', 'reversed'] as const) {
    const { filters } = flatDrivers(pair(slope('linkwitz-riley', 4, 2000)), polarity);
    const { deviationDb, lossDb, crossoversHz, ways, sumDb } = filters.play(new Map());
    expect(deviationDb).toBeLessThan(1e-9);
    expect(lossDb).toBeLessThan(1e-9);
    expect(crossoversHz[0]).toBeCloseTo(2000, 0);
    const at = frequencyHz.findIndex((hz) => hz >= 2000);
    expect(ways[0].levelDb[at] - sumDb[at]).toBeCloseTo(-6.02, 0);
    const [, upper] = filters.ways;
    const turned = filters.play(new Map([[upper.id, { ...plainActiveWay, isReversed: true }]]));
    expect(turned.deviationDb).toBeGreaterThan(10);
  }
});

test('Butterworth slopes of third order sum flat either way round', () => {
  const { filters } = flatDrivers(pair(slope('butterworth', 3, 2000)));
  for (const isReversed of [false, true])
    expect(
      filters.play(new Map([[filters.ways[1].id, { ...plainActiveWay, isReversed }]])).deviationDb,
    ).toBeLessThan(1e-9);
});

test('evening out undoes levels, lateness and polarity', () => {
  const [low, high] = pair(slope('linkwitz-riley', 4, 1500));
  const { filters } = flatDrivers([
    { ...low, gainDb: -4, lateMs: 0.25 },
    { ...high, gainDb: 3 },
  ]);
  expect(filters.play(new Map()).deviationDb).toBeGreaterThan(2);
  const settings = filters.matched();
  const [first, second] = filters.ways.map(({ id }): ActiveWay => settings.get(id)!);
  expect(first.gainDb).toBeCloseTo(0, 2);
  expect(second.gainDb).toBeCloseTo(-7, 1);
  expect(second.delayMs - first.delayMs).toBeCloseTo(0.25, 2);
  expect(second.isReversed).toBe(false);
  const { deviationDb, lossDb } = filters.play(settings);
  expect(deviationDb).toBeLessThan(0.05);
  expect(lossDb).toBeLessThan(0.05);
});

test('the demo’s drivers are matched out as far as their slopes let them', () => {
  const lr = (hz: number) => slope('linkwitz-riley', 4, hz);
  const targets: Way['target'][] = [
    { highPass: null, lowPass: lr(450) },
    { highPass: lr(450), lowPass: lr(2600) },
    { highPass: lr(2600), lowPass: null },
  ];
  const design: Design = {
    ...demo,
    ways: demo.ways.map((way, w) => ({ ...way, target: targets[w] })),
  };
  const filters = createActiveFilters(design, createPredictor()(design, data))!;
  const before = filters.play(new Map());
  const after = filters.play(filters.matched());
  expect(after.deviationDb).toBeLessThan(0.75 * before.deviationDb);
  expect(after.lossDb!).toBeLessThan(before.lossDb!);
  expect(after.crossoversHz).toHaveLength(2);
  // The loudest way plays plain, and the first to speak is not held back.
  const settings = [...filters.matched().values()];
  expect(Math.max(...settings.map(({ gainDb }) => gainDb))).toBe(0);
  expect(Math.min(...settings.map(({ delayMs }) => delayMs))).toBe(0);
});

test('without a driver that is heard there is nothing to preview', () => {
  const silent = { ...demo, drivers: demo.drivers.map((one) => ({ ...one, responseId: null })) };
  expect(createActiveFilters(silent, createPredictor()(silent, data))).toBeNull();
});
