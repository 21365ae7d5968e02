import { seededRandom } from '../../../tests/fixtures';
import { logGrid } from '@/core/grid/logGrid';
import type { Element, Netlist } from './netlist';
import type { Probe } from './outputs';
import { createBlockSensitivity } from './blockSensitivity';
import { createSensitivity } from './createSensitivity';
import { createTreeSensitivity } from './treeSensitivity';

const frequencyHz = logGrid(20, 20_000, 6);
const points = frequencyHz.length;
const curve = (of: (hz: number) => number) => frequencyHz.map(of);
const load = {
  re: curve((hz) => 5 + 30 / (1 + (4 * Math.log(hz / 60)) ** 2)),
  im: curve((hz) => hz / 2500 - (40 * Math.log(hz / 60)) / (1 + (4 * Math.log(hz / 60)) ** 2)),
};

/** Drivers behind random ladders, some of which part behind what they share. */
function randomTree(seed: number) {
  const random = seededRandom(seed);
  const pick = (count: number) => Math.floor(count * random());
  const elements: Element[] = [
    { kind: 'source', name: 'V', a: 'emf', b: '0', voltsRe: 2, voltsIm: 1 },
    { kind: 'resistor', name: 'Ro', a: 'emf', b: 'in', ohms: 0.05 + random() },
  ];
  const wanted: string[] = [];
  let node = 0;
  const add = (a: string, b: string) => {
    const name = `P${wanted.length}`;
    wanted.push(name);
    const kind = pick(3);
    const seriesOhms = 0.5 * random();
    elements.push(
      kind === 0
        ? { kind: 'resistor', name, a, b, ohms: 1 + 20 * random() }
        : kind === 1
          ? { kind: 'coil', name, a, b, henries: 3e-3 * random() + 1e-4, seriesOhms }
          : { kind: 'capacitor', name, a, b, farads: 4e-5 * random() + 1e-6, seriesOhms },
    );
  };
  const places = ['in'];
  const drivers: string[] = [];
  for (let w = 0; w < 3; w++) {
    let at = places[pick(places.length)];
    for (let step = 0; step < 2 + pick(4); step++) {
      const next = `n${++node}`;
      switch (pick(4)) {
        case 0:
          add(at, '0');
          break;
        case 1: // Two in series to ground, a place between them that nobody asks for.
          add(at, next);
          add(next, '0');
          break;
        case 2: // Two in parallel along the line.
          add(at, next);
          add(at, next);
          at = next;
          places.push(at);
          break;
        default:
          add(at, next);
          at = next;
          places.push(at);
      }
    }
    elements.push({ kind: 'oneport', name: `D${w}`, a: at, b: '0' });
    drivers.push(at);
  }
  const probes: Probe[] = [
    ...drivers.map((plus): Probe => ({ kind: 'voltage', plus, minus: '0' })),
    { kind: 'voltage', plus: drivers[0], minus: drivers[1] },
    { kind: 'voltage', plus: 'in', minus: '0' },
    { kind: 'current', source: 'V' },
  ];
  const netlist: Netlist = { elements, couplings: [] };
  const onePorts = new Map(drivers.map((_, w) => [`D${w}`, load]));
  return { netlist, onePorts, probes, wanted };
}

/** Largest difference between two rows; NaN where one is. */
const apart = (a: Float64Array, b: Float64Array) =>
  a.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i])), 0);

test('a network like a tree has the values and the slopes that any network has', () => {
  for (let seed = 1; seed <= 40; seed++) {
    const { netlist, onePorts, probes, wanted } = randomTree(seed);
    const args = [netlist, onePorts, probes, wanted, frequencyHz] as const;
    const tree = createTreeSensitivity(...args)!;
    const block = createBlockSensitivity(...args);
    const losses = Float64Array.from(wanted, (_, w) => 0.02 * w);
    for (const one of [tree, block]) one.solve(netlist, losses);
    const scale = Math.max(...block.values.flatMap(({ re }) => [...re].map(Math.abs)));
    probes.forEach((_, q) => {
      for (const side of ['re', 'im'] as const) {
        const values = apart(tree.values[q][side], block.values[q][side]);
        expect(values).toBeLessThan(1e-9 * scale);
        expect(apart(tree.slopes(q)[side], block.slopes(q)[side])).toBeLessThan(1e-8 * scale);
      }
    });
    expect(tree.slopes(0).re).toHaveLength(points * wanted.length);
  }
});

test('slopes are those of the last solution, and are not asked for in vain', () => {
  const { netlist, onePorts, probes, wanted } = randomTree(3);
  const one = createSensitivity(netlist, onePorts, probes, wanted, frequencyHz);
  const losses = new Float64Array(wanted.length);
  one.solve(netlist, losses);
  const before = one.slopes(0).re.slice();
  const moved: Netlist = {
    ...netlist,
    elements: netlist.elements.map((element) =>
      element.kind === 'resistor' ? { ...element, ohms: 2 * element.ohms } : element,
    ),
  };
  one.solve(moved, losses);
  expect(one.slopes(0).re).not.toEqual(before);
  one.solve(netlist, losses);
  expect(one.slopes(0).re).toEqual(before);
});

test('rings, several sources, coupled coils and places that hang in the air are left to the other way', () => {
  const tree = randomTree(1);
  const shaped = (change: (elements: readonly Element[]) => Partial<Netlist>) =>
    createTreeSensitivity(
      { ...tree.netlist, ...change(tree.netlist.elements) },
      tree.onePorts,
      tree.probes,
      tree.wanted,
      frequencyHz,
    );
  const [{ plus: first }, { plus: second }] = tree.probes as { plus: string }[];
  const bridge: Element = { kind: 'resistor', name: 'X', a: first, b: second, ohms: 5 };
  expect(first).not.toBe(second);
  expect(shaped((elements) => ({ elements: [...elements, bridge] }))).toBeNull();
  const other: Element = { kind: 'source', name: 'W', a: 'q', b: '0', voltsRe: 1, voltsIm: 0 };
  expect(shaped((elements) => ({ elements: [...elements, other] }))).toBeNull();
  expect(
    shaped(() => ({
      couplings: [{ name: 'K', coilA: 'P0', coilB: 'P1', coefficient: 0.2 }],
    })),
  ).toBeNull();
  const loose: Element = { kind: 'resistor', name: 'Y', a: 'air', b: 'elsewhere', ohms: 5 };
  expect(shaped((elements) => ({ elements: [...elements, loose] }))).toBeNull();
});
