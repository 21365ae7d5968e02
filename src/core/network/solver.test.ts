import { seededRandom } from '../../../tests/fixtures';
import { logGrid } from '@/core/grid/logGrid';
import { createDenseSolver } from './dense';
import type { Element, Netlist } from './netlist';
import { planNetwork } from './plan';
import type { Probe } from './outputs';
import { createSolver } from './solver';
import { readSpice } from './spice';

const v = (plus: string, minus = '0'): Probe => ({ kind: 'voltage', plus, minus });

function solveText(text: string, probes: Probe[], ...frequencyHz: number[]) {
  const { netlist } = readSpice(`title\n${text}`, 'c.cir');
  const solver = createSolver(
    planNetwork(netlist),
    netlist,
    new Map(),
    probes,
    Float64Array.from(frequencyHz),
  );
  solver.solve(netlist);
  return solver;
}

/**
 * From-scratch twin: classical modified nodal analysis with a current for every branch, solved
 * densely.
 */
function solveByTwin({ elements, couplings }: Netlist, hz: number, node: string): [number, number] {
  const nodes = [...new Set(elements.flatMap((e) => [e.a, e.b]))].filter((name) => name !== '0');
  const n = nodes.length + elements.length;
  const dense = createDenseSolver(n);
  const put = (i: number, j: number, re: number, im = 0) => {
    if (i < 0 || j < 0) return;
    dense.re[i * n + j] += re;
    dense.im[i * n + j] += im;
  };
  const omega = 2 * Math.PI * hz;
  elements.forEach((e, k) => {
    const row = nodes.length + k;
    for (const [name, sign] of [
      [e.a, 1],
      [e.b, -1],
    ] as const) {
      put(nodes.indexOf(name), row, sign);
      put(row, nodes.indexOf(name), sign);
    }
    if (e.kind === 'resistor') put(row, row, -e.ohms);
    if (e.kind === 'coil') put(row, row, -e.seriesOhms, -omega * e.henries);
    if (e.kind === 'capacitor') put(row, row, -e.seriesOhms, 1 / (omega * e.farads));
    if (e.kind === 'source') [dense.rightRe[row], dense.rightIm[row]] = [e.voltsRe, e.voltsIm];
  });
  const coil = (name: string) => elements.findIndex((e) => e.name === name);
  for (const k of couplings) {
    const [i, j] = [coil(k.coilA), coil(k.coilB)];
    const [a, b] = [elements[i], elements[j]];
    if (a.kind !== 'coil' || b.kind !== 'coil') throw new Error('not coils');
    const x = omega * k.coefficient * Math.sqrt(a.henries * b.henries);
    put(nodes.length + i, nodes.length + j, 0, -x);
    put(nodes.length + j, nodes.length + i, 0, -x);
  }
  if (!dense.solve()) throw new Error('singular');
  const at = nodes.indexOf(node);
  return [dense.rightRe[at], dense.rightIm[at]];
}

function randomNetlist(random: () => number): Netlist {
  const nodes = ['0', 'a', 'b', 'c', 'd', 'e', 'f'];
  const pick = () => nodes[Math.floor(random() * nodes.length)];
  const size = () => 10 ** (2 * random() - 1);
  const elements: Element[] = [
    { kind: 'source', name: 'v1', a: 'a', b: '0', voltsRe: 2.83, voltsIm: 0 },
    { kind: 'source', name: 'v2', a: 'b', b: 'c', voltsRe: random(), voltsIm: random() },
    // A resistor from each node to the next keeps everything connected.
    ...nodes.slice(1).map((a, i): Element => ({
      kind: 'resistor',
      name: `chain${i}`,
      a,
      b: nodes[i],
      ohms: 8 * size(),
    })),
  ];
  for (let i = 0; i < 10; i++) {
    const [a, b] = [pick(), pick()];
    const seriesOhms = random() < 0.5 ? 0 : 0.3 * size();
    if (a === b) continue;
    if (random() < 0.5)
      elements.push({
        kind: 'coil',
        name: `l${i}`,
        a,
        b,
        henries: 1e-3 * size(),
        seriesOhms: seriesOhms + 1e-3,
      });
    else
      elements.push({ kind: 'capacitor', name: `c${i}`, a, b, farads: 1e-5 * size(), seriesOhms });
  }
  const coils = elements.filter((e) => e.kind === 'coil');
  const couplings = coils.slice(1).map((coil, i) => ({
    name: `k${i}`,
    coilA: coils[i].name,
    coilB: coil.name,
    coefficient: 0.4 * (random() - 0.5) || 0.1,
  }));
  return { elements, couplings };
}

test.each([1, 2, 3, 4, 5, 6, 7, 8])('random networks agree with a dense twin, seed %i', (seed) => {
  const netlist = randomNetlist(seededRandom(seed));
  const frequencyHz = logGrid(20, 20_000, 4);
  const solver = createSolver(
    planNetwork(netlist),
    netlist,
    new Map(),
    [v('f'), v('c')],
    frequencyHz,
  );
  solver.solve(netlist);
  frequencyHz.forEach((hz, i) =>
    ['f', 'c'].forEach((node, p) => {
      const [re, im] = solveByTwin(netlist, hz, node);
      expect(Math.hypot(solver.re[p][i] - re, solver.im[p][i] - im)).toBeLessThan(
        1e-10 * (1 + Math.hypot(re, im)),
      );
    }),
  );
});

test('new values in the same topology need no new plan', () => {
  const { netlist } = readSpice('t\nv1 in 0 ac 1\nr1 in out 10\nr2 out 0 10', 'c.cir');
  const solver = createSolver(
    planNetwork(netlist),
    netlist,
    new Map(),
    [v('out')],
    Float64Array.of(100),
  );
  solver.solve(netlist);
  expect(solver.re[0][0]).toBeCloseTo(0.5, 14);
  const changed = {
    ...netlist,
    elements: netlist.elements.map((e) => (e.name === 'r2' ? { ...e, ohms: 30 } : e)) as Element[],
  };
  solver.solve(changed);
  expect(solver.re[0][0]).toBeCloseTo(0.75, 14);
});

test('a loss-free trap at exactly its resonance shorts what is behind it', () => {
  // ω = 1e4 rad/s: ωL = 10 Ω, 1/ωC = 10 Ω, cancelling in the node between them.
  const hz = 1e4 / (2 * Math.PI);
  const { re, im } = solveText(
    'v1 in 0 ac 1\nr1 in out 8\nl1 out x 1m\nc1 x 0 10u',
    [v('out'), v('x')],
    hz / 2,
    hz,
    hz * 2,
  );
  expect(Math.hypot(re[0][1], im[0][1])).toBeLessThan(1e-9);
  expect(Math.hypot(re[1][1], im[1][1])).toBeCloseTo(10 / 8, 9);
  // An octave off: reactance 1.5·10 Ω, divided with 8 Ω.
  expect(Math.hypot(re[0][0], im[0][0])).toBeCloseTo(15 / 17, 12);
  expect(Math.hypot(re[0][2], im[0][2])).toBeCloseTo(15 / 17, 12);
});

test('an undamped resonance without a finite solution is named with its frequency', () => {
  const hz = 1e4 / (2 * Math.PI);
  expect(() => solveText('v1 in 0 ac 1\nl1 in x 1m\nc1 x 0 10u', [v('x')], hz)).toThrow(
    /1591\.55 Hz: .*no finite solution/,
  );
});

test('the current of a source has SPICE’s sign: into its + terminal', () => {
  const { re } = solveText('v1 in 0 ac 2\nr1 in 0 8', [{ kind: 'current', source: 'v1' }], 1000);
  expect(re[0][0]).toBeCloseTo(-0.25, 15);
});

test('currents of stacked and floating sources follow from Kirchhoff’s law', () => {
  const probes: Probe[] = ['v1', 'v2'].map((source) => ({ kind: 'current', source }));
  const { re } = solveText('v1 a 0 ac 1\nv2 b a ac 2\nr1 b 0 3\nr2 a 0 4', probes, 50);
  expect(re[1][0]).toBeCloseTo(-1, 15);
  expect(re[0][0]).toBeCloseTo(-1.25, 15);
});

test('perfectly coupled coils are an ideal transformer', () => {
  // k = 1, turns 1:2, load 40 Ω reflects as 10 Ω; magnetising reactance is far above it.
  const { re, im } = solveText(
    'v1 in 0 ac 1\nr1 in p 10\nl1 p 0 100\nl2 s 0 400\nk1 l1 l2 1\nr2 s 0 40',
    [v('p'), v('s')],
    1e5,
  );
  expect(Math.hypot(re[0][0], im[0][0])).toBeCloseTo(0.5, 6);
  expect(Math.hypot(re[1][0], im[1][0])).toBeCloseTo(1, 6);
});

test('a measured one-port loads the network, and its absence is told', () => {
  const netlist: Netlist = {
    elements: [
      { kind: 'source', name: 'v', a: 'in', b: '0', voltsRe: 1, voltsIm: 0 },
      { kind: 'resistor', name: 'r', a: 'in', b: 'out', ohms: 6 },
      { kind: 'oneport', name: 'woofer', a: 'out', b: '0' },
    ],
    couplings: [],
  };
  const plan = planNetwork(netlist);
  const frequencyHz = Float64Array.of(100, 200);
  const load = { re: Float64Array.of(6, 0), im: Float64Array.of(0, 6) };
  const solver = createSolver(plan, netlist, new Map([['woofer', load]]), [v('out')], frequencyHz);
  solver.solve(netlist);
  expect([solver.re[0][0], solver.im[0][0]]).toEqual([0.5, 0]);
  expect(solver.re[0][1]).toBeCloseTo(0.5, 14);
  expect(solver.im[0][1]).toBeCloseTo(0.5, 14);
  expect(() => createSolver(plan, netlist, new Map(), [v('out')], frequencyHz)).toThrow(
    /woofer has no impedance/,
  );
});

test('probes that name nothing and frequencies that cannot be solved are told', () => {
  const circuit = 'v1 in 0 ac 1\nr1 in 0 8';
  expect(() => solveText(circuit, [v('out')], 100)).toThrow(/no node out/);
  expect(() => solveText(circuit, [{ kind: 'current', source: 'r1' }], 100)).toThrow(
    /no voltage source r1/,
  );
  expect(() => solveText(circuit, [v('in')], 0)).toThrow(/0 Hz/);
});
