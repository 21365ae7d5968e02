import { partValue } from '@/core/document/partKinds';
import { readDemo, seededRandom } from '../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { createPredictor } from '@/core/prediction/predict';
import { compileNetwork } from '@/core/circuit/compileNetwork';
import { designSchema, type Design } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { planNetwork } from '@/core/network/plan';
import { createSolver } from '@/core/network/solver';
import { crossingBetween, firstCandidates, variations } from './candidates';
import {
  bestSoFar,
  createExploration,
  explore,
  paretoOf,
  tryNetwork,
  type Exploration,
  type FoundNetwork,
  type TryAll,
} from './explore';
import {
  inWords,
  networkOf,
  partCountOf,
  partKindsOf,
  withNetwork,
  type NetworkRecipe,
  type WayRecipe,
} from './grammar';
import { limitedTo, noPartLimits, type SearchLimits } from './limits';
import { outlayOf } from './outlay';

const { design: demo, data } = readDemo();
const [woofer, midrange, tweeter] = demo.drivers;
const outlines = [midrange, tweeter].map((driver) => ({
  driver,
  name: driver.name,
  ohmsAt: () => 8,
}));
const way = (driverId: string, set: Partial<WayRecipe>): WayRecipe => ({
  driverId,
  highPass: 0,
  lowPass: 0,
  pad: 'none',
  hasCorrection: false,
  hasTrap: false,
  isReversed: false,
  ...set,
});

describe('the grammar', () => {
  test.each([1, 2, 3] as const)('order %i is the Butterworth filter into a resistor', (order) => {
    const recipe: NetworkRecipe = {
      ways: [way('midrange', { lowPass: order }), way('tweeter', { highPass: order })],
      crossHz: [2000],
    };
    // Without losses the closed form |H|² = 1/(1 + (f/fc)^±2n) holds (Butterworth 1930).
    const ways = networkOf(recipe, outlines, null).map((one) => ({
      ...one,
      parts: one.parts.map((part) =>
        part.kind === 'coil' ? { ...part, seriesOhms: 1e-12 } : part,
      ),
    }));
    const design: Design = { ...demo, amplifier: { volts: 1, outputOhms: 0, cableOhms: 0 }, ways };
    const usable = ways.map((one) => ({ way: one }));
    const { netlist, probes, onePorts } = compileNetwork(design, usable, null);
    const hz = Float64Array.of(500, 1000, 2000, 3000, 8000);
    const load = { re: new Float64Array(5).fill(8), im: new Float64Array(5) };
    const solver = createSolver(
      planNetwork(netlist),
      netlist,
      new Map(onePorts.map((onePort) => [onePort, load])),
      probes,
      hz,
    );
    solver.solve(netlist);
    hz.forEach((f, i) => {
      const ratio = (f / 2000) ** (2 * order);
      expect(Math.hypot(solver.re[0][i], solver.im[0][i])).toBeCloseTo(1 / Math.sqrt(1 + ratio), 9);
      expect(Math.hypot(solver.re[1][i], solver.im[1][i])).toBeCloseTo(
        1 / Math.sqrt(1 + 1 / ratio),
        9,
      );
    });
  });

  test('what it builds is a sound document with as many parts as it says, told in words', () => {
    const recipe: NetworkRecipe = {
      ways: [
        way('midrange', { lowPass: 2, hasCorrection: true, hasTrap: true }),
        way('tweeter', { highPass: 3, pad: 'divider', isReversed: true }),
      ],
      crossHz: [2500],
    };
    const design = withNetwork(demo, recipe, outlines);
    expect(designSchema.parse(design)).toEqual(design);
    expect(design.ways.flatMap(({ parts }) => parts)).toHaveLength(partCountOf(recipe));
    expect(design.ways[1].polarity).toBe('reversed');
    expect(inWords(recipe, outlines)).toEqual([
      'Midrange: second-order low pass, impedance correction, trap',
      'Tweeter: third-order high pass, divider, reversed',
    ]);
  });
});

const twoWay = { ...demo, drivers: [tweeter, midrange], ways: [] };
const exploration = createExploration(twoWay, data, limitedTo(5));
const inTurn =
  (one: Exploration): TryAll =>
  ({ tries, effort }) =>
    Promise.resolve(
      tries.flatMap(({ recipe, from }) => tryNetwork(one, recipe, effort, from) ?? []),
    );

test('drivers are put in the order of their bands, whatever order they came in', () => {
  expect(exploration.outlines.map(({ name }) => name)).toEqual(['Midrange', 'Tweeter']);
  expect(
    createExploration(
      { ...demo, drivers: [tweeter, woofer, midrange] },
      data,
      limitedTo(9),
    ).outlines.map(({ name }) => name),
  ).toEqual(['Woofer', 'Midrange', 'Tweeter']);
});

test('a crossing begins above the upper resonance and below the wavelength of the distance', () => {
  const asked = { ...demo, brief: { ...demo.brief, ratedWatts: null } };
  const outline = (yMm: number, fsHz: number | null) => ({
    driver: { ...tweeter, position: { xMm: 0, yMm, zMm: 0 }, sheet: { ...tweeter.sheet, fsHz } },
    name: 'x',
    ohmsAt: () => 8,
  });
  const between = (...args: [number, number | null, number, number | null, number]) =>
    crossingBetween(asked, outline(args[0], args[1]), outline(args[2], args[3]), args[4]);
  // 200 mm are a wavelength at 1716 Hz.
  expect(between(0, 50, 200, 500, 3000)).toBeCloseTo(1716, 0);
  expect(between(0, 50, 200, 1200, 3000)).toBe(2400);
  expect(between(0, 50, 100, 500, 2000)).toBe(2000);
  expect(between(0, 50, 0, null, 2000)).toBe(2000);
});

test('first candidates stay within the parts allowed, simple ones first, each once', () => {
  const candidates = firstCandidates(exploration);
  const counts = candidates.map(partCountOf);
  expect(Math.max(...counts)).toBe(5);
  expect(counts).toEqual([...counts].sort((a, b) => a - b));
  expect(new Set(candidates.map((one) => JSON.stringify(one))).size).toBe(candidates.length);
});

describe('limits', () => {
  const within = (limits: Partial<SearchLimits>) =>
    createExploration(twoWay, data, { ...limitedTo(7), ...limits });

  test('of money leave out what can’t be had for it, before anything is fitted', () => {
    const all = firstCandidates(within({}));
    const cheap = firstCandidates(within({ mostOutlay: 8 }));
    expect(cheap.length).toBeGreaterThan(0);
    expect(cheap.length).toBeLessThan(all.length);
    const { resistor, coil, capacitor } = noPartLimits.rates;
    for (const recipe of cheap) {
      const kinds = partKindsOf(recipe);
      expect(Object.values(kinds).reduce((sum, count) => sum + count)).toBe(partCountOf(recipe));
      const least = kinds.resistor * resistor + kinds.coil * coil + kinds.capacitor * capacitor;
      expect(least).toBeLessThanOrEqual(8);
    }
  });

  test('of coil size and money hold for every network that is found', async () => {
    const limits = { mostParts: 4, mostHenries: 0.4e-3, mostOutlay: 30 };
    const narrow = within(limits);
    const { networks } = await explore(narrow, inTurn(narrow));
    expect(networks.length).toBeGreaterThan(0);
    for (const { ways, figures } of networks) {
      const parts = ways.flatMap((one) => one.parts);
      for (const part of parts)
        if (part.kind === 'coil') expect(part.henries).toBeLessThanOrEqual(0.4e-3 * (1 + 1e-9));
      expect(figures.outlay).toBeLessThanOrEqual(30 * 1.02);
      expect(outlayOf(parts, noPartLimits.rates)).toBeCloseTo(figures.outlay, 6);
    }
  }, 60_000);

  test('of heat leave out networks that are hotter', () => {
    const cool = within({ mostWatts: 1e-3, mostParts: 6 });
    const recipe: NetworkRecipe = {
      ways: [way('midrange', { lowPass: 1 }), way('tweeter', { highPass: 1, pad: 'series' })],
      crossHz: [2000],
    };
    const found = tryNetwork(cool, recipe, 'look')!;
    expect(found.figures.hottestWatts).toBeGreaterThan(1e-3);
    expect(bestSoFar([[found]], cool.limits)).toEqual([]);
    expect(bestSoFar([[found]], limitedTo(6))).toEqual([found]);
  });
});

describe('four drivers', () => {
  const low = { ...midrange, id: 'low', name: 'Low midrange' };
  const four = createExploration(
    { ...demo, drivers: [woofer, low, midrange, tweeter], ways: [] },
    data,
    limitedTo(14),
  );

  test('have a first look that can be finished, alike on both sides of the middle', () => {
    const candidates = firstCandidates(four);
    expect(candidates.length).toBeGreaterThan(500);
    expect(candidates.length).toBeLessThan(3000);
    for (const { ways, crossHz } of candidates) {
      expect(ways).toHaveLength(4);
      expect([...crossHz].sort((a, b) => a - b)).toEqual(crossHz);
      for (const one of ways.slice(1, 3)) expect(one.highPass).toBe(one.lowPass);
    }
  });

  test('are given other orders and pads by the variations', () => {
    const [recipe] = firstCandidates(four);
    const all = variations([{ recipe }], limitedTo(24));
    const orders = new Set(all.map(({ ways }) => `${ways[1].highPass} ${ways[1].lowPass}`));
    expect(orders).toEqual(new Set(['1 1', '2 1', '1 2']));
    expect(new Set(all.map(({ ways }) => ways[3].highPass))).toEqual(new Set([1, 2, 3]));
    expect(new Set(all.map(({ ways }) => ways[1].pad))).toEqual(
      new Set(['none', 'series', 'divider']),
    );
  });

  test('are fitted as others are', () => {
    const found = tryNetwork(four, firstCandidates(four)[40], 'look')!;
    expect(found.ways).toHaveLength(4);
    expect(Number.isFinite(found.cost)).toBe(true);
  });
});

test('a search finds networks of which none is better in everything, each as good as it says', async () => {
  const stages: (string | null)[] = [];
  const { networks, tried } = await explore(exploration, inTurn(exploration), (progress) =>
    stages.push(progress.stage),
  );
  expect(stages).toHaveLength(5);
  expect(stages.at(-1)).toBeNull();
  expect(tried).toBeGreaterThan(firstCandidates(exploration).length);
  expect(networks.length).toBeGreaterThan(2);
  expect(paretoOf(networks)).toHaveLength(networks.length);
  const costs = networks.map(({ cost }) => cost);
  // More parts buy something: the best of the largest beats the best of the smallest.
  expect(Math.min(...costs)).toBeLessThan(0.95 * networks[0].cost);
  for (const { ways, figures, partCount } of networks) {
    expect(partCount).toBeLessThanOrEqual(5);
    const design = { ...twoWay, ways: [...ways] };
    expect(designSchema.safeParse(design).success).toBe(true);
    const { summary } = createPredictor()(design, data);
    expect(summary.lowestImpedance!.ohms).toBeCloseTo(figures.lowestOhms, 0);
  }
  const again = await explore(exploration, inTurn(exploration));
  expect(again.networks).toEqual(networks);
}, 60_000);

test('variations add or take away traps and corrections, never the same twice', () => {
  const recipe: NetworkRecipe = {
    ways: [way('midrange', { lowPass: 1 }), way('tweeter', { highPass: 1 })],
    crossHz: [2000],
  };
  const all = variations([{ recipe }, { recipe }], limitedTo(7));
  expect(all.every((one) => partCountOf(one) <= 7)).toBe(true);
  expect(new Set(all.map((one) => JSON.stringify(one))).size).toBe(all.length);
  expect(all.some(({ ways }) => ways[0].hasCorrection && ways[1].hasTrap)).toBe(true);
});

test('of two equal networks one is kept, and a dominated one goes', () => {
  const network = (cost: number, partCount: number, lowestOhms: number) =>
    ({ cost, partCount, figures: { lowestOhms, outlay: 10 }, scatterDb: 0.1 }) as FoundNetwork;
  expect(
    paretoOf([network(1, 5, 5), network(1, 5, 5), network(1.2, 6, 5), network(2, 4, 5)]),
  ).toEqual([network(2, 4, 5), network(1, 5, 5)]);
});

test('scatter from tolerances is what a draw of many finds', () => {
  const recipe: NetworkRecipe = {
    ways: [way('midrange', { lowPass: 2 }), way('tweeter', { highPass: 2, isReversed: true })],
    crossHz: [2500],
  };
  const { ways, scatterDb } = tryNetwork(exploration, recipe, 'consider')!;
  const grid = logGrid(200, 15_000, 12);
  const predict = createPredictor(grid);
  const nominal: Design = { ...twoWay, ways: [...ways] };
  const levels = (design: Design) => predict(design, data).sum!.levelDb;
  const before = levels(nominal);
  const random = seededRandom(5);
  let square = 0;
  const draws = 150;
  for (let n = 0; n < draws; n++) {
    const values = new Map(
      ways
        .flatMap(({ parts }) => parts)
        .map((part) => [
          part.id,
          { value: partValue(part) * (1 + 0.05 * (2 * random() - 1)), seriesOhms: null },
        ]),
    );
    const moved = levels(applyChange(nominal, { type: 'setPartValues', values })).map(
      (level, i) => level - before[i],
    );
    const mean = moved.reduce((sum, db) => sum + db, 0) / moved.length;
    square += moved.reduce((sum, db) => sum + (db - mean) ** 2, 0) / moved.length / draws;
  }
  expect(Math.abs(scatterDb / Math.sqrt(square) - 1)).toBeLessThan(0.2);
});

test('with fewer than two usable drivers there is nothing to search', () => {
  expect(() => createExploration({ ...demo, drivers: [tweeter] }, data, limitedTo(5))).toThrow(
    'A search joins two to four',
  );
});
