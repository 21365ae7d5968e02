import { readDemo } from '../../../tests/fixtures';
import { logGrid } from '@/core/grid/logGrid';
import { impedanceOnGrid } from '@/core/measurement/onGrid';
import type { Element } from '@/core/network/netlist';
import { planNetwork } from '@/core/network/plan';
import { createSolver } from '@/core/network/solver';
import {
  denominator,
  ladder,
  prototypeLevel,
  type Alignment,
  type FilterOrder,
} from '@/core/prediction/prototypes';
import {
  baffleStep,
  filterIntoLoad,
  filterIntoResistor,
  impedanceCorrection,
  levelPad,
  partsFor,
  trap,
  type StartingPoint,
} from './startingPoints';
import type { FilterLoad } from './filterLoad';

const frequencyHz = logGrid(20, 20_000, 12);
const resistor: FilterLoad = {
  frequencyHz,
  re: new Float64Array(frequencyHz.length).fill(8),
  im: new Float64Array(frequencyHz.length),
};

/** Level at the load and |Z| at the source of a starting point before it. */
function played({ parts, join }: StartingPoint, load: FilterLoad, coilOhms = 1e-9) {
  let node = 'in';
  const elements: Element[] = [
    { kind: 'source', name: 'V', a: 'in', b: '0', voltsRe: 1, voltsIm: 0 },
  ];
  const isSeriesGroup = join === 'series';
  parts.forEach(({ place, kind, value, isGrouped }, i) => {
    const isLast = i === parts.length - 1;
    let [a, b] = [node, place === 'series' ? (isGrouped ? 'grouped' : `n${i}`) : '0'];
    if (isGrouped && isSeriesGroup) [a, b] = [i === 0 ? node : `g${i}`, isLast ? '0' : `g${i + 1}`];
    const base = { name: `P${i}`, a, b };
    if (kind === 'resistor') elements.push({ ...base, kind, ohms: value });
    else if (kind === 'coil')
      elements.push({ ...base, kind, henries: value, seriesOhms: coilOhms });
    else elements.push({ ...base, kind, farads: value, seriesOhms: 0 });
    if (place === 'series' && (!isGrouped || isLast)) node = b;
  });
  elements.push({ kind: 'oneport', name: 'D', a: node, b: '0' });
  const netlist = { elements, couplings: [] };
  const solver = createSolver(
    planNetwork(netlist),
    netlist,
    new Map([['D', load]]),
    [
      { kind: 'voltage', plus: node, minus: '0' },
      { kind: 'current', source: 'V' },
    ],
    load.frequencyHz,
  );
  solver.solve(netlist);
  return {
    db: load.frequencyHz.map(
      (_, i) => 20 * Math.log10(Math.hypot(solver.re[0][i], solver.im[0][i])),
    ),
    ohms: load.frequencyHz.map((_, i) => 1 / Math.hypot(solver.re[1][i], solver.im[1][i])),
  };
}
const at = (hz: number) => frequencyHz.findIndex((f) => f >= hz * 0.9999);

describe('prototypes', () => {
  test('ladders of the handbooks: Butterworth 3 is 3/2, 4/3, 1/2; Linkwitz–Riley 4 is 1.886, 1.591, 0.943, 0.354', () => {
    // Butterworth: singly terminated tables (Zverev, Handbook of Filter Synthesis, 1967;).
    ladder(denominator('butterworth', 3)).forEach((g, i) =>
      expect(g).toBeCloseTo([1.5, 4 / 3, 0.5][i], 12),
    );
    // Linkwitz–Riley: common tables of passive crossovers (no source), in units of R/ω and 1/(ωR).
    ladder(denominator('linkwitz-riley', 4)).forEach((g, i) =>
      expect(g).toBeCloseTo([1.8856, 1.591, 0.9428, 0.3536][i], 3),
    );
  });

  test('Bessel is 3 dB down at its frequency, and its delay is flat', () => {
    for (const order of [1, 2, 3, 4] as const) {
      const polynomial = denominator('bessel', order);
      expect(20 * Math.log10(prototypeLevel(polynomial, 1, false))).toBeCloseTo(-3.0103, 4);
    }
    expect(() => denominator('linkwitz-riley', 3)).toThrow('even order');
  });
});

const cases = (['butterworth', 'linkwitz-riley', 'bessel'] as const).flatMap((alignment) =>
  ([1, 2, 3, 4] as const)
    .filter((order) => alignment !== 'linkwitz-riley' || order % 2 === 0)
    .map((order) => [alignment, order] as [Alignment, FilterOrder]),
);

test.each(cases)('%s of order %i into a resistor is exact', (alignment, order) => {
  const polynomial = denominator(alignment, order);
  for (const isHighPass of [false, true]) {
    const { db } = played(
      filterIntoResistor({ isHighPass, alignment, order, hz: 2000 }, 8),
      resistor,
    );
    frequencyHz.forEach((f, i) =>
      expect(db[i]).toBeCloseTo(
        20 * Math.log10(prototypeLevel(polynomial, f / 2000, isHighPass)),
        6,
      ),
    );
  }
});

test('the two halves of Linkwitz–Riley 4 add up to a level response', () => {
  const level = (isHighPass: boolean) =>
    prototypeLevel(denominator('linkwitz-riley', 4), 1, isHighPass);
  // In phase with each other everywhere (Linkwitz 1976), so that levels add.
  expect(level(true) + level(false)).toBeCloseTo(1, 12);
});

test('against the real impedance the slope is nearer to the textbook than against a resistor', () => {
  const { design, data } = readDemo();
  const impedance = data.get(design.drivers[2].impedanceId!)!;
  const load = { frequencyHz, ...impedanceOnGrid(impedance, frequencyHz) };
  const wish = { isHighPass: true, alignment: 'linkwitz-riley', order: 4, hz: 2500 } as const;
  const polynomial = denominator('linkwitz-riley', 4);
  const misfit = (point: StartingPoint) => {
    const { db } = played(point, load, 0.3);
    const near = [...frequencyHz.keys()].filter(
      (i) => frequencyHz[i] > 1300 && frequencyHz[i] < 12_000,
    );
    const square = near.reduce(
      (sum, i) =>
        sum +
        (db[i] - 20 * Math.log10(prototypeLevel(polynomial, frequencyHz[i] / 2500, true))) ** 2,
      0,
    );
    return Math.sqrt(square / near.length);
  };
  const i = at(2500);
  const plain = misfit(filterIntoResistor(wish, Math.hypot(load.re[i], load.im[i])));
  expect(misfit(filterIntoLoad(wish, load))).toBeLessThan(0.75 * plain);
});

test('a level pad takes exactly its decibels and keeps the load', () => {
  const { db, ohms } = played(levelPad(6, 8), resistor);
  expect(db[at(1000)]).toBeCloseTo(-6, 9);
  expect(ohms[at(1000)]).toBeCloseTo(8, 9);
});

test('the correction finds the textbook values for a coil, and flattens a semi-inductance', () => {
  const henries = 0.6e-3;
  const coil = { ...resistor, im: frequencyHz.map((f) => 2 * Math.PI * f * henries) };
  const [r, c] = impedanceCorrection(coil, 100).parts;
  // R = Re, C = Le/Re²: then the load is a resistor (Zobel 1923).
  expect(r.value).toBeCloseTo(8, 1);
  expect(c.value / (henries / 64)).toBeCloseTo(1, 1);
  // Leach 2002: K·(jω)^n with n = 0.6.
  const k = 0.02;
  const semi: FilterLoad = {
    frequencyHz,
    re: frequencyHz.map((f) => 6 + k * (2 * Math.PI * f) ** 0.6 * Math.cos(0.3 * Math.PI)),
    im: frequencyHz.map((f) => k * (2 * Math.PI * f) ** 0.6 * Math.sin(0.3 * Math.PI)),
  };
  const spread = (values: Float64Array) => {
    const above = values.subarray(at(200));
    return Math.max(...above) / Math.min(...above);
  };
  const before = spread(semi.re.map((re, i) => Math.hypot(re, semi.im[i])));
  const { ohms } = played(impedanceCorrection(semi, 200), semi);
  expect(before).toBeGreaterThan(3);
  expect(spread(ohms)).toBeLessThan(1.25);
});

test('a baffle step takes its decibels from the highs, half of them at its frequency', () => {
  const { db } = played(baffleStep(6, 400, 8), resistor);
  expect(db[at(20)]).toBeCloseTo(0, 1);
  expect(db[at(19_000)]).toBeCloseTo(-6, 1);
  expect(Math.abs(db[at(400)] + 3)).toBeLessThan(0.4);
});

test('a trap takes its decibels where and as wide as it is told', () => {
  const hz = frequencyHz[at(1000)];
  const { db } = played(trap(8, hz, 1, 8), resistor);
  expect(db[at(1000)]).toBeCloseTo(-8, 6);
  const inside = (octaves: number) =>
    played(trap(8, hz, 1, 8), {
      frequencyHz: Float64Array.of(hz * 2 ** octaves),
      re: Float64Array.of(8),
      im: Float64Array.of(0),
    }).db[0];
  expect(inside(0.5)).toBeCloseTo(-4, 6);
  expect(inside(-0.5)).toBeCloseTo(-4, 6);
  expect(inside(3)).toBeGreaterThan(-0.3);
});

test('parts get free names and a group', () => {
  let count = 0;
  const { parts, groups } = partsFor(
    trap(3, 1000, 1, 8),
    new Set(['R1', 'L2']),
    () => `id${count++}`,
  );
  expect(parts.map(({ name }) => name)).toEqual(['R2', 'L1', 'C1']);
  expect(groups).toEqual([{ id: 'id0', join: 'parallel', parentId: null }]);
  expect(parts.every(({ groupId }) => groupId === 'id0')).toBe(true);
});
