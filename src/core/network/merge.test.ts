import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { seededRandom } from '../../../tests/fixtures';
import { logGrid } from '@/core/grid/logGrid';
import { createGradientSolver } from './gradient';
import { planMerged, type BranchTree } from './merge';
import type { Element, Netlist } from './netlist';
import type { Probe } from './outputs';
import { planNetwork } from './plan';
import { createSolver } from './solver';
import { readSpice } from './spice';

const frequencyHz = logGrid(20, 20_000, 6);
const source: Element = { kind: 'source', name: 'v', a: 'in', b: '0', voltsRe: 2, voltsIm: 0.5 };
const resistor = (name: string, a: string, b: string, ohms: number): Element => ({
  ...{ kind: 'resistor', name, a, b, ohms },
});
const coil = (name: string, a: string, b: string, henries: number, seriesOhms = 0.2): Element => ({
  ...{ kind: 'coil', name, a, b, henries, seriesOhms },
});
const capacitor = (
  name: string,
  a: string,
  b: string,
  farads: number,
  seriesOhms = 0,
): Element => ({
  ...{ kind: 'capacitor', name, a, b, farads, seriesOhms },
});
const netlist = (...elements: Element[]): Netlist => ({
  elements: [source, ...elements],
  couplings: [],
});
const voltage = (plus: string): Probe => ({ kind: 'voltage', plus, minus: '0' });
const current: Probe = { kind: 'current', source: 'v' };
const elementsIn = (tree: BranchTree): number[] =>
  tree.join === 'none' ? [tree.element] : tree.members.flatMap(elementsIn);

/** The merging solver against one that keeps every node, which gradients need. */
function expectSame(list: Netlist, probes: readonly Probe[], grid = frequencyHz): void {
  const plan = planNetwork(list);
  const merging = createSolver(plan, list, new Map(), probes, grid);
  merging.solve(list);
  const keeping = createGradientSolver(plan, list, new Map(), probes, [], grid);
  keeping.solve(list, null);
  probes.forEach((_, o) => {
    const scale = Math.max(...keeping.re[o].map((re, i) => Math.hypot(re, keeping.im[o][i])));
    grid.forEach((hz, i) => {
      const apart = Math.hypot(
        merging.re[o][i] - keeping.re[o][i],
        merging.im[o][i] - keeping.im[o][i],
      );
      expect([hz, apart < 1e-11 * scale]).toEqual([hz, true]);
    });
  });
}

test('a chain and what is beside it become one branch, each element once', () => {
  const list = netlist(
    resistor('r', 'in', 'a', 1),
    coil('l', 'a', 'b', 1e-3),
    capacitor('c', 'b', '0', 10e-6),
    capacitor('c2', 'b', '0', 3e-6),
  );
  const merged = planMerged(list, new Set(['in']))!;
  expect(merged.plan.unknownCount).toBe(0);
  expect(merged.trees).toHaveLength(1);
  expect(elementsIn(merged.trees[0]).sort()).toEqual([1, 2, 3, 4]);
  expectSame(list, [current]);
});

test('a node that is asked about stays', () => {
  const list = netlist(
    resistor('r', 'in', 'a', 1),
    coil('l', 'a', 'b', 1e-3),
    capacitor('c', 'b', '0', 10e-6),
  );
  const merged = planMerged(list, new Set(['b']))!;
  expect(merged.plan.nodeNames).toContain('b');
  expect(merged.plan.nodeNames).not.toContain('a');
  expectSame(list, [voltage('b'), current]);
  expect(planMerged(list, new Set(['a', 'b']))).toBeNull();
});

test('two that are between the same places in a ring are left to themselves', () => {
  const list: Netlist = {
    elements: [
      source,
      resistor('r', 'in', 'a', 1),
      coil('l1', 'a', 'b', 1e-3),
      coil('l2', 'b', 'a', 2e-3),
      coil('l3', 'a', '0', 2e-3),
    ],
    couplings: [{ name: 'k', coilA: 'l1', coilB: 'l3', coefficient: 0.3 }],
  };
  expectSame(list, [voltage('a'), current]);
});

test.each([
  ['as it stands', 'a', 'b'],
  ['the other way round', 'b', 'a'],
])('a coupled coil keeps its direction in a chain: %s', (_, a, b) => {
  const list: Netlist = {
    elements: [
      source,
      resistor('r', 'in', 'a', 3),
      coil('l1', a, b, 1e-3),
      capacitor('c', 'b', 'out', 20e-6),
      resistor('r2', 'out', '0', 8),
      resistor('r3', 'in', 'c', 2),
      coil('l2', 'c', 'd', 2e-3),
      resistor('r4', 'd', '0', 5),
    ],
    couplings: [{ name: 'k', coilA: 'l1', coilB: 'l2', coefficient: 0.4 }],
  };
  const merged = planMerged(list, new Set(['out', 'd']))!;
  expect(merged.plan.nodeNames).not.toContain('b');
  expectSame(list, [voltage('out'), voltage('d'), current]);
});

test('a measured driver may be inside', () => {
  const driver: Element = { kind: 'oneport', name: 'driver', a: 'a', b: 'b' };
  const list = netlist(resistor('r', 'in', 'a', 1), driver, resistor('r2', 'b', '0', 0.5));
  const data = new Map([
    [
      'driver',
      { re: frequencyHz.map((hz) => 6 + hz / 5000), im: frequencyHz.map((hz) => hz / 3000) },
    ],
  ]);
  const solver = createSolver(planNetwork(list), list, data, [current], frequencyHz);
  solver.solve(list);
  frequencyHz.forEach((hz, i) => {
    // By hand: I = −V/(R + Z + R₂), as SPICE counts the current of a source.
    const [x, y] = [7.5 + hz / 5000, hz / 3000];
    const size = x * x + y * y;
    expect(solver.re[0][i]).toBeCloseTo(-(2 * x + 0.5 * y) / size, 12);
    expect(solver.im[0][i]).toBeCloseTo(-(0.5 * x - 2 * y) / size, 12);
  });
});

test('a merged branch that resonates without loss is solved with its nodes kept', () => {
  const hz = 1e4 / (2 * Math.PI);
  const grid = Float64Array.of(hz / 2, hz, 2 * hz);
  // In series the two are a wire there, in parallel nothing at all: 10 Ω against −10 Ω.
  const wire = netlist(
    resistor('r', 'in', 'a', 4),
    coil('l', 'a', 'b', 1e-3, 0),
    capacitor('c', 'b', 'out', 10e-6),
    resistor('r2', 'out', '0', 8),
    resistor('r3', 'a', '0', 8),
  );
  expectSame(wire, [voltage('out'), current], grid);
  const gap = netlist(
    resistor('r', 'in', 'a', 4),
    coil('l', 'a', 'b', 1e-3, 0),
    capacitor('c', 'a', 'b', 10e-6),
    resistor('r2', 'b', '0', 8),
    resistor('r3', 'a', '0', 8),
  );
  expectSame(gap, [voltage('a'), current], grid);
});

test('values may change between two solutions', () => {
  const of = (ohms: number) =>
    netlist(
      resistor('r', 'in', 'a', ohms),
      coil('l', 'a', 'b', ohms * 1e-3),
      resistor('r2', 'b', '0', 8),
    );
  const list = of(1);
  const solver = createSolver(planNetwork(list), list, new Map(), [current], frequencyHz);
  for (const ohms of [1, 5, 2]) {
    solver.solve(of(ohms));
    frequencyHz.forEach((hz, i) => {
      const [x, y] = [ohms + 8.2, 2 * Math.PI * hz * ohms * 1e-3];
      expect(solver.re[0][i]).toBeCloseTo(-(2 * x + 0.5 * y) / (x * x + y * y), 10);
    });
  }
});

test('half of the equations of a usual three-way go', () => {
  const text = readFileSync(
    join(import.meta.dirname, '../../../tests/references/net/n02_3way_common_mutual.cir'),
    'utf8',
  );
  const { netlist: list } = readSpice(text, 'n02.cir');
  const whole = planNetwork(list);
  const merged = planMerged(list, new Set(['wp', 'mp', 'tp']))!;
  expect(merged.plan.unknownCount).toBeLessThan(whole.unknownCount / 2);
  expect(merged.trees.flatMap(elementsIn)).toHaveLength(whole.branches.length);
});

test('sixty random networks come to the same, merged or not', () => {
  const random = seededRandom(17);
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)];
  for (let n = 0; n < 60; n++) {
    const nodes = [
      'in',
      '0',
      ...Array.from({ length: 2 + Math.floor(random() * 5) }, (_, k) => `n${k}`),
    ];
    const elements: Element[] = [];
    const addOne = (a: string, b: string) => {
      const name = `e${elements.length}`;
      const size = 10 ** (random() - 0.5);
      elements.push(
        pick([
          resistor(name, a, b, 8 * size),
          coil(name, a, b, 1e-3 * size, 0.3 * size),
          capacitor(name, a, b, 10e-6 * size, random() < 0.5 ? 0 : 0.1),
        ]),
      );
    };
    // Each node hangs on one before it, then as many again anywhere; ground last, so that
    // everything is tied to it.
    nodes.slice(2).forEach((node, k) => addOne(node, nodes[k === 0 ? 0 : pick([0, k + 1])]));
    addOne(nodes.at(-1)!, '0');
    nodes.forEach((a) => {
      const b = pick(nodes);
      if (a !== b) addOne(a, b);
    });
    expectSame(netlist(...elements), [voltage(pick(nodes.slice(2))), current]);
  }
});
