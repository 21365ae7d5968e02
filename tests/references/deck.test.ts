/**
 * The network that is handed to other programs against ngspice-39 (a general-purpose circuit
 * simulator), see deck/SOURCE.md: what it finds at the drivers is what the design predicts with the
 * impedances as measured.
 */
import { magnitudesOf } from '@/core/prediction/derived';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { networkDeck } from '@/core/insight/networkDeck';
import { createPredictor } from '@/core/prediction/predict';
import { planNetwork } from '@/core/network/plan';
import { createSolver } from '@/core/network/solver';
import { readSpice } from '@/core/network/spice';
import { readDemo } from '../fixtures';

const folder = join(import.meta.dirname, 'deck');
const rows = readFileSync(join(folder, 'demo.csv'), 'utf8')
  .trim()
  .split('\n')
  .slice(1)
  .map((line) => line.split(',').map(Number));
const frequencyHz = Float64Array.from(rows, ([hz]) => hz);
const { design, data } = readDemo();
const { ways } = createPredictor(frequencyHz)(design, data);
const decibels = (ratio: number) => 20 * Math.log10(ratio);

test('ngspice finds the predicted voltages at the demo’s drivers within 0.1 dB', () => {
  ways.map(({ voltage }) => magnitudesOf(voltage)).forEach((volts, w) =>
    rows.forEach((row, i) => {
      const found = Math.hypot(row[1 + 2 * w], row[2 + 2 * w]);
      expect(Math.abs(decibels(found / volts[i]))).toBeLessThan(0.1);
    }),
  );
});

test('the deck as it is written today does the same', () => {
  const deck = networkDeck(design, data)!;
  const { netlist } = readSpice(deck, 'demo.cir');
  const probes = [...deck.matchAll(/^\* driver \S+ (\S+) (\S+) /gm)].map(
    ([, plus, minus]) => ({ kind: 'voltage', plus, minus }) as const,
  );
  expect(probes).toHaveLength(3);
  const solver = createSolver(planNetwork(netlist), netlist, new Map(), probes, frequencyHz);
  solver.solve(netlist);
  ways.map(({ voltage }) => magnitudesOf(voltage)).forEach((volts, w) =>
    volts.forEach((wanted, i) => {
      const found = Math.hypot(solver.re[w][i], solver.im[w][i]);
      expect(Math.abs(decibels(found / wanted))).toBeLessThan(0.1);
    }),
  );
});
