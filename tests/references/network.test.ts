/**
 * The network solver against ngspice-39 (a general-purpose circuit simulator), see net/SOURCE.md,
 * and against closed forms of circuit theory.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { planNetwork } from '@/core/network/plan';
import type { Probe } from '@/core/network/outputs';
import { createSolver } from '@/core/network/solver';
import { readSpice } from '@/core/network/spice';

interface Case {
  case: string;
  netlist: string;
  result: string;
  source: string;
  drivers: { name: string; plus: string; minus: string }[];
}

const folder = join(import.meta.dirname, 'net');
const { cases } = JSON.parse(readFileSync(join(folder, 'cases.json'), 'utf8')) as { cases: Case[] };

function solveText(text: string, probes: Probe[], frequencyHz: Float64Array) {
  const { netlist } = readSpice(text, 'test.cir');
  const solver = createSolver(planNetwork(netlist), netlist, new Map(), probes, frequencyHz);
  solver.solve(netlist);
  return solver;
}

test.each(cases)('$case agrees with ngspice to 1e-9', ({ netlist, result, source, drivers }) => {
  const [, ...rows] = readFileSync(join(folder, result), 'utf8').trim().split('\n').map((line) => line.split(',').map(Number));
  const probes: Probe[] = [
    ...drivers.map(({ plus, minus }): Probe => ({ kind: 'voltage', plus, minus })),
    { kind: 'current', source: source.toLowerCase() },
  ];
  const { re, im } = solveText(readFileSync(join(folder, netlist), 'utf8'), probes, Float64Array.from(rows, (r) => r[0]));
  expect(rows).toHaveLength(144);
  let worst = 0;
  rows.forEach((row, f) =>
    probes.forEach((probe, p) => {
      const sign = probe.kind === 'current' ? -1 : 1;
      const [wantRe, wantIm] = [row[1 + 2 * p], row[2 + 2 * p]];
      const error = Math.hypot(sign * re[p][f] - wantRe, sign * im[p][f] - wantIm) / Math.hypot(wantRe, wantIm);
      worst = Math.max(worst, error);
    }),
  );
  expect(worst).toBeLessThan(1e-9);
});

// Closed form: |H| of R behind C is x/√(1+x²), x = 2πfRC (any circuit theory text).
test.each([
  [1989.436788648692, -3.0103],
  [994.718394324346, -6.9897],
])('10 µF into 8 Ω at %f Hz is %f dB', (frequency, expected) => {
  const { re, im } = solveText('t\nv1 in 0 ac 1\nc1 in out 10u\nr1 out 0 8', [{ kind: 'voltage', plus: 'out', minus: '0' }], Float64Array.of(frequency));
  expect(20 * Math.log10(Math.hypot(re[0][0], im[0][0]))).toBeCloseTo(expected, 4);
});
