import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { logGrid } from '@/core/grid/logGrid';
import type { Netlist } from './netlist';
import { planNetwork } from './plan';
import { createSolver } from './solver';
import { readSpice } from './spice';
import { withDriversAsResistors, writeSpice } from './writeSpice';

const folder = join(import.meta.dirname, '../../../tests/references/net');
const grid = logGrid(20, 20_000, 3);

/** Current of the source: it knows of everything in the circuit. */
function sourceCurrent(netlist: Netlist): readonly [Float64Array, Float64Array] {
  const source = netlist.elements.find(({ kind }) => kind === 'source')!.name;
  const solver = createSolver(
    planNetwork(netlist),
    netlist,
    new Map(),
    [{ kind: 'current', source }],
    grid,
  );
  solver.solve(netlist);
  return [solver.re[0], solver.im[0]];
}

test.each([
  'n01_2way_2nd_lpad_zobel',
  'n02_3way_common_mutual',
  'n03_series_crossover',
  'n04_4th_vented_notch_bridge',
])('%s comes back as the same circuit', (name) => {
  const { netlist } = readSpice(readFileSync(join(folder, `${name}.cir`), 'utf8'), name);
  const written = writeSpice(netlist, 'again', new Map());
  const again = readSpice(written, 'written');
  expect(again.title).toBe('again');
  expect(again.warnings).toEqual([]);
  const [before, after] = [sourceCurrent(netlist), sourceCurrent(again.netlist)];
  for (const part of [0, 1] as const)
    grid.forEach((_, i) =>
      expect(Math.abs(after[part][i] - before[part][i])).toBeLessThan(
        1e-9 * Math.hypot(before[0][i], before[1][i]),
      ),
    );
});

test('losses, strange names, phases and stand-ins are written so that any SPICE reads them', () => {
  const netlist: Netlist = {
    elements: [
      { kind: 'source', name: 'amplifier', a: 'emf', b: '0', voltsRe: 0, voltsIm: 2 },
      { kind: 'resistor', name: 'amplifier output', a: 'emf', b: 'terminal', ohms: 0.1 },
      { kind: 'coil', name: 'L1', a: 'terminal', b: 'after l1', henries: 1e-3, seriesOhms: 0.3 },
      { kind: 'capacitor', name: 'L_1', a: 'after l1', b: '0', farads: 1e-5, seriesOhms: 0 },
      { kind: 'oneport', name: 'driver of\nway', a: 'after l1', b: '0' },
    ],
    couplings: [],
  };
  const text = writeSpice(
    netlist,
    'two\nlines',
    new Map([
      [
        'driver of\nway',
        {
          chain: [
            { ohms: 5.6, henries: null, farads: null },
            { ohms: 20, henries: 0.02, farads: 1e-4 },
          ],
          ohms: 6.2,
          remark: 'measured,\nat 1 kHz',
        },
      ],
    ]),
  );
  expect(text.split('\n')[0]).toBe('two lines');
  expect(text).toContain('v_amplifier 1 0 AC 2 90\n');
  expect(text).toMatch(/^\* driver r_driver_of_way \d+ 0 6\.2: measured, at 1 kHz$/m);
  const { netlist: read } = readSpice(text, 'written');
  expect(read.elements.map(({ kind }) => kind)).toEqual([
    'source',
    'resistor',
    'coil',
    'resistor',
    'capacitor',
    'resistor',
    'resistor',
    'coil',
    'capacitor',
  ]);
  expect(new Set(read.elements.map(({ name }) => name)).size).toBe(9);
  // For laying out, the chain is one resistor between the same nodes again.
  const collapsed = readSpice(withDriversAsResistors(text), 'written').netlist.elements;
  expect(collapsed).toHaveLength(6);
  expect(collapsed.at(-1)).toMatchObject({
    kind: 'resistor',
    name: 'r_driver_of_way',
    ohms: 6.2,
    b: '0',
  });
  expect(withDriversAsResistors('a deck\nr1 1 0 8\n.end')).toBe('a deck\nr1 1 0 8\n.end');
});
