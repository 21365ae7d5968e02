import { readDemo } from '../../../tests/fixtures';
import { compileNetwork } from '@/core/circuit/compileNetwork';
import { partValue } from '@/core/document/partKinds';
import { designSchema, type Design } from '@/core/document/schema';
import { planNetwork } from '@/core/network/plan';
import { createSolver } from '@/core/network/solver';
import { crossingBetween, families, familyKey, neighboursOf } from '@/core/exploration/candidates';
import { createExploration } from '@/core/exploration/explore';
import {
  inWords,
  isAtItsEnd,
  networkOf,
  partCountOf,
  partKindsOf,
  typicalCoilOhms,
  withBoughtCoils,
  withNetwork,
  type NetworkRecipe,
  type WayRecipe,
} from './grammar';
import { limitedTo, noPartLimits } from '@/core/fitting/limits';

const { design: demo, data } = readDemo();
const [, midrange, tweeter] = demo.drivers;
const outlines = [midrange, tweeter].map((driver) => ({
  ...{ driver, name: driver.name, target: null, levelDb: 90 },
  ohmsAt: () => 8,
}));
const way = (driverId: string, set: Partial<WayRecipe>): WayRecipe => ({
  driverId,
  ...{ highPass: 0, lowPass: 0, pad: 'none', correction: 'none', trap: 'none', isReversed: false },
  ...set,
});

test.each([1, 2, 3, 4] as const)('order %i is the Butterworth filter into a resistor', (order) => {
  const recipe: NetworkRecipe = {
    ways: [way('midrange', { lowPass: order }), way('tweeter', { highPass: order })],
    crossHz: [2000],
  };
  // Without losses the closed form |H|² = 1/(1 + (f/fc)^±2n) holds (Butterworth 1930).
  const ways = networkOf(recipe, outlines, null).map((one) => ({
    ...one,
    parts: one.parts.map((part) => (part.kind === 'coil' ? { ...part, seriesOhms: 1e-12 } : part)),
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
  const recipes: WayRecipe[][] = [
    [
      way('midrange', { lowPass: 2, correction: 'driver', trap: 'shunt' }),
      way('tweeter', { highPass: 3, pad: 'divider', isReversed: true }),
    ],
    [
      way('midrange', { lowPass: 4, correction: 'filter', pad: 'series', trap: 'line' }),
      way('tweeter', { highPass: 1, pad: 'front', correction: 'capacitor' }),
    ],
  ];
  const words = recipes.map((ways) => {
    const recipe = { ways, crossHz: [2500] };
    const design = withNetwork(demo, recipe, outlines);
    expect(designSchema.parse(design)).toEqual(design);
    const parts = design.ways.flatMap((one) => one.parts);
    expect(parts).toHaveLength(partCountOf(recipe));
    const counts = partKindsOf(recipe);
    for (const kind of ['resistor', 'coil', 'capacitor'] as const)
      expect(parts.filter((part) => part.kind === kind)).toHaveLength(counts[kind]);
    return inWords(recipe, outlines);
  });
  expect(words).toEqual([
    [
      'Midrange: second-order low pass, notch in shunt, Zobel network',
      'Tweeter: third-order high pass, L-pad, reversed',
    ],
    [
      'Midrange: fourth-order low pass, RC behind the filter, trap in the line, series resistor',
      'Tweeter: resistor in front, first-order high pass, capacitor across the driver',
    ],
  ]);
});

test('a network goes on from another: what both have keeps its value, what is new does little', () => {
  const parent: NetworkRecipe = {
    ways: [way('midrange', { lowPass: 1 }), way('tweeter', { highPass: 2 })],
    crossHz: [2000],
  };
  const ways = networkOf(parent, outlines, null).map((one) => ({
    ...one,
    parts: one.parts.map((part) =>
      part.kind === 'capacitor' ? { ...part, farads: 3.21e-6 } : part,
    ),
  }));
  const child: NetworkRecipe = {
    ...parent,
    ways: [parent.ways[0], way('tweeter', { highPass: 2, trap: 'shunt', pad: 'series' })],
  };
  const [, grown] = networkOf(child, outlines, null, { recipe: parent, ways });
  const valueOf = (name: string) => partValue(grown.parts.find((part) => part.name === name)!);
  expect(valueOf('C1')).toBeCloseTo(3.21e-6, 12);
  const [, textbook] = networkOf(child, outlines, null);
  const pad = grown.parts.findIndex(({ groupId, kind }) => groupId === null && kind === 'resistor');
  expect(partValue(grown.parts[pad])).toBeLessThan(partValue(textbook.parts[pad]));
});

test('coils are as one buys them: air, or from 1.5 mH on a core, each with its resistance', () => {
  const recipe: NetworkRecipe = {
    ways: [way('midrange', { lowPass: 1 }), way('tweeter', { highPass: 2 })],
    crossHz: [400],
  };
  const ways = networkOf(recipe, outlines, null);
  const coils = withBoughtCoils(ways).flatMap(({ parts }) =>
    parts.flatMap((part) => (part.kind === 'coil' ? [part] : [])),
  );
  expect(coils.length).toBeGreaterThan(1);
  for (const coil of coils) {
    expect(coil.core === 'magnetic').toBe(coil.henries >= 1.5e-3);
    expect(coil.seriesOhms).toBe(typicalCoilOhms(coil.henries));
  }
  // Common practice: 1 mH of usual wire has about a third of an ohm, 3 mH on a core less.
  expect(typicalCoilOhms(1e-3)).toBeCloseTo(0.35, 9);
  expect(typicalCoilOhms(3e-3)).toBeLessThan(typicalCoilOhms(1.4e-3));
});

test('a part at the end of what shops sell is told', () => {
  const [{ parts }] = networkOf(
    { ways: [way('midrange', { lowPass: 1 }), way('tweeter', { highPass: 1 })], crossHz: [2000] },
    outlines,
    null,
  );
  expect(isAtItsEnd(parts[0])).toBe(false);
  expect(isAtItsEnd({ ...parts[0], kind: 'coil', henries: 0.06e-3, seriesOhms: 0 })).toBe(true);
});

test('a crossing begins above the upper resonance and below the wavelength of the distance', () => {
  const asked = { ...demo, brief: { ...demo.brief, ratedWatts: null } };
  const outline = (yMm: number, fsHz: number | null) => ({
    driver: { ...tweeter, position: { xMm: 0, yMm, zMm: 0 }, sheet: { ...tweeter.sheet, fsHz } },
    ...{ name: 'x', target: null, levelDb: 90 },
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

describe('candidates', () => {
  const exploration = createExploration(
    { ...demo, drivers: [tweeter, midrange], ways: [] },
    data,
    limitedTo(5),
  );

  test('are families within the parts allowed, simple ones first, each start once', () => {
    const all = families(exploration);
    const counts = all.map(partCountOf);
    expect(Math.max(...counts)).toBe(5);
    expect(counts).toEqual([...counts].sort((a, b) => a - b));
    expect(new Set(all.map((one) => JSON.stringify(one))).size).toBe(all.length);
    const orders = new Set(all.map(({ ways }) => ways[1].highPass));
    expect(orders).toEqual(new Set([1, 2, 3, 4]));
  });

  test('for little money leave out what can’t be had for it', () => {
    const cheap = families({ ...exploration, limits: { ...limitedTo(5), mostOutlay: 8 } });
    expect(cheap.length).toBeGreaterThan(0);
    const { resistor, coil, capacitor } = noPartLimits.rates;
    for (const recipe of cheap) {
      const kinds = partKindsOf(recipe);
      const least = kinds.resistor * resistor + kinds.coil * coil + kinds.capacitor * capacitor;
      expect(least).toBeLessThanOrEqual(8);
    }
  });

  test('grow by one step at a time, to every kind of part, and back', () => {
    const recipe: NetworkRecipe = {
      ways: [way('midrange', { lowPass: 2 }), way('tweeter', { highPass: 2, pad: 'series' })],
      crossHz: [2000],
    };
    const steps = neighboursOf(recipe, limitedTo(9));
    expect(new Set(steps.map(familyKey)).size).toBe(steps.length);
    const tweeters = steps.map(({ ways }) => ways[1]);
    for (const set of [
      { highPass: 1 },
      { highPass: 3 },
      { pad: 'none' },
      { pad: 'front' },
      { correction: 'filter' },
      { correction: 'capacitor' },
      { trap: 'line' },
    ])
      expect(tweeters).toContainEqual({ ...recipe.ways[1], ...set });
    expect(neighboursOf(recipe, limitedTo(5)).every((one) => partCountOf(one) <= 5)).toBe(true);
  });
});
