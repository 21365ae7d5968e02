import { logGrid } from '@/core/grid/logGrid';
import { createGradientSolver } from './gradient';
import type { Element, Netlist } from './netlist';
import { planNetwork } from './plan';
import { createSolver } from './solver';
import type { Probe } from './outputs';

const frequencyHz = logGrid(20, 20_000, 8);
/** A driver: resistance, semi-inductive rise and a resonance. */
const load = {
  re: frequencyHz.map((hz) => 5 + 30 / (1 + (4 * Math.log(hz / 60)) ** 2) + hz / 4000),
  im: frequencyHz.map(
    (hz) => hz / 2500 - (40 * Math.log(hz / 60)) / (1 + (4 * Math.log(hz / 60)) ** 2),
  ),
};
const onePorts = new Map([
  ['W', load],
  ['T', load],
]);

const source = (a: string): Element => ({
  kind: 'source',
  name: 'V',
  a,
  b: '0',
  voltsRe: 2.83,
  voltsIm: 0,
});
const R = (name: string, a: string, b: string, ohms: number): Element => ({
  kind: 'resistor',
  name,
  a,
  b,
  ohms,
});
const L = (name: string, a: string, b: string, henries: number, seriesOhms: number): Element => ({
  kind: 'coil',
  name,
  a,
  b,
  henries,
  seriesOhms,
});
const C = (name: string, a: string, b: string, farads: number, seriesOhms: number): Element => ({
  kind: 'capacitor',
  name,
  a,
  b,
  farads,
  seriesOhms,
});
const D = (name: string, a: string, b = '0'): Element => ({ kind: 'oneport', name, a, b });

const probes: Probe[] = [
  { kind: 'voltage', plus: 'w', minus: '0' },
  { kind: 'voltage', plus: 't', minus: 'w' },
  { kind: 'current', source: 'V' },
];

const circuits: Record<string, Netlist> = {
  'a two-way behind an output resistance': {
    elements: [
      source('e'),
      R('Ro', 'e', 'in', 0.3),
      L('L1', 'in', 'w', 1.8e-3, 0.4),
      C('C1', 'w', '0', 33e-6, 0.05),
      R('R1', 'w', 'z', 6),
      C('C2', 'z', '0', 15e-6, 0),
      D('W', 'w'),
      C('C3', 'in', 'u', 8e-6, 0),
      L('L2', 'u', '0', 0.4e-3, 0.2),
      R('R2', 'u', 't', 2.2),
      D('T', 't'),
    ],
    couplings: [],
  },
  'one straight at the source, whose current is probed through its parts': {
    elements: [
      source('in'),
      L('L1', 'in', 'w', 1e-3, 0),
      C('C1', 'in', 't', 5e-6, 0.1),
      R('R1', 'in', '0', 100),
      D('W', 'w'),
      D('T', 't'),
    ],
    couplings: [],
  },
  'coupled coils in series and in shunt, and a bridge between the ways': {
    elements: [
      source('e'),
      R('Ro', 'e', 'in', 0.1),
      L('L1', 'in', 'm', 2e-3, 0.3),
      L('L3', 'm', 'w', 0.7e-3, 0.2),
      C('C1', 'm', '0', 20e-6, 0.1),
      D('W', 'w'),
      C('C3', 'in', 't', 6e-6, 0),
      L('L2', 't', '0', 0.5e-3, 0.25),
      D('T', 't'),
      R('Rb', 'w', 't', 40),
    ],
    couplings: [
      { name: 'K1', coilA: 'L1', coilB: 'L2', coefficient: 0.12 },
      { name: 'K2', coilA: 'L1', coilB: 'L3', coefficient: -0.08 },
    ],
  },
  'a stack of two drivers in series': {
    elements: [
      source('in'),
      L('L1', 'in', 'w', 1e-3, 0.2),
      C('C1', 'in', 't', 22e-6, 0.02),
      D('T', 'in', 't'),
      R('R1', 't', 'w', 1),
      D('W', 't', '0'),
      C('C2', 'w', '0', 40e-6, 0),
      R('R2', 'w', '0', 33),
    ],
    couplings: [],
  },
};

const passive = ({ elements }: Netlist) =>
  elements.filter(({ kind }) => ['resistor', 'coil', 'capacitor'].includes(kind));

/** The netlist with one value times a factor, its loss moved along. */
const changed = (netlist: Netlist, name: string, factor: number, lossSlope: number): Netlist => ({
  ...netlist,
  elements: netlist.elements.map((element) => {
    if (element.name !== name) return element;
    const more = lossSlope * Math.log(factor);
    if (element.kind === 'resistor') return { ...element, ohms: element.ohms * factor };
    if (element.kind === 'coil')
      return {
        ...element,
        henries: element.henries * factor,
        seriesOhms: element.seriesOhms + more,
      };
    if (element.kind === 'capacitor')
      return { ...element, farads: element.farads * factor, seriesOhms: element.seriesOhms + more };
    return element;
  }),
});

describe.each(Object.entries(circuits))('%s', (_, netlist) => {
  const plan = planNetwork(netlist);
  const wanted = passive(netlist).map(({ name }) => name);
  const slopes = Float64Array.from(passive(netlist), ({ kind }) =>
    kind === 'resistor' ? 0 : 0.07,
  );
  const gradient = createGradientSolver(plan, netlist, onePorts, probes, wanted, frequencyHz);
  gradient.solve(netlist, slopes);

  test('the solution is that of the plain solver', () => {
    const plain = createSolver(plan, netlist, onePorts, probes, frequencyHz);
    plain.solve(netlist);
    probes.forEach((__, o) =>
      frequencyHz.forEach((___, i) => {
        expect(gradient.re[o][i]).toBeCloseTo(plain.re[o][i], 12);
        expect(gradient.im[o][i]).toBeCloseTo(plain.im[o][i], 12);
      }),
    );
  });

  test('every derivative agrees with central differences to a millionth', () => {
    const plain = createSolver(plan, netlist, onePorts, probes, frequencyHz);
    wanted.forEach((name, w) => {
      const step = 2e-4;
      const at = (times: number) => {
        plain.solve(changed(netlist, name, Math.exp(times * step), slopes[w]));
        return probes.map((__, o) => [plain.re[o].slice(), plain.im[o].slice()] as const);
      };
      // Fourth-order differences: (8·(f₁ − f₋₁) − (f₂ − f₋₂))/12h.
      const [up, down, up2, down2] = [at(1), at(-1), at(2), at(-2)];
      probes.forEach((__, o) => {
        const scale = Math.max(
          ...gradient.slopeRe[o][w].map((value, i) => Math.hypot(value, gradient.slopeIm[o][w][i])),
          1e-9,
        );
        frequencyHz.forEach((___, i) => {
          for (const part of [0, 1] as const) {
            const difference =
              (8 * (up[o][part][i] - down[o][part][i]) - (up2[o][part][i] - down2[o][part][i])) /
              (12 * step);
            const exact = (part === 0 ? gradient.slopeRe : gradient.slopeIm)[o][w][i];
            expect(Math.abs(exact - difference) / scale).toBeLessThan(1e-6);
          }
        });
      });
    });
  });
});

test('a loss-free trap at its resonance is differentiated as well', () => {
  const netlist: Netlist = {
    elements: [
      source('e'),
      R('Ro', 'e', 'w', 2),
      L('L1', 'w', 'x', 1e-3, 0),
      C('C1', 'x', '0', 1e-3 / (2 * Math.PI) ** 2, 0),
      D('W', 'w'),
    ],
    couplings: [],
  };
  const hz = Float64Array.of(500, 1000, 2000);
  const ports = new Map([['W', { re: Float64Array.of(8, 8, 8), im: new Float64Array(3) }]]);
  const plan = planNetwork(netlist);
  const gradient = createGradientSolver(
    plan,
    netlist,
    ports,
    probes.slice(0, 1),
    ['L1', 'C1', 'Ro'],
    hz,
  );
  gradient.solve(netlist, new Float64Array(3));
  // At resonance the voltage is nought and moves with the trap's reactance: dv = E·jωL/Ro for a
  // factor of e.
  expect(Math.hypot(gradient.re[0][1], gradient.im[0][1])).toBeLessThan(1e-9);
  expect(gradient.slopeIm[0][0][1]).toBeCloseTo((2.83 * 2 * Math.PI) / 2, 6);
  expect(gradient.slopeIm[0][1][1]).toBeCloseTo((2.83 * 2 * Math.PI) / 2, 6);
  expect(gradient.slopeRe[0][2][1]).toBeCloseTo(0, 9);
});
