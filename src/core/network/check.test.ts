import { checkNetlist } from './check';
import { readSpice } from './spice';

const findings = (...lines: string[]) =>
  checkNetlist(readSpice(['title', ...lines].join('\n'), 'c.cir').netlist).map(
    (p) => `${p.code} ${p.where}`,
  );

const good = ['v1 in 0 ac 1', 'r1 in out 4', 'r2 out 0 8'];

test.each([
  ['a sound network', [], []],
  ['an island', ['c1 x y 1u', 'r9 x y 3'], ['floating_node c.cir:5']],
  [
    'a transformer’s loose secondary',
    ['l1 out 0 1m', 'l2 s t 1m', 'r9 s t 8', 'k1 l1 l2 0.9'],
    ['floating_node c.cir:6'],
  ],
  ['a zero resistor', ['r9 out 0 0'], ['value_not_positive c.cir:5']],
  ['a negative capacitor', ['c9 out 0 -1u'], ['value_not_positive c.cir:5']],
  ['a coil across an ideal source', ['l1 in 0 1m'], ['ideal_loop c.cir:5, c.cir:2']],
  [
    'two coils across an ideal source',
    ['l1 in x 1m', 'l2 x 0 1m'],
    ['ideal_loop c.cir:5, c.cir:6, c.cir:2'],
  ],
  ['two sources in parallel', ['v2 in 0 ac 1'], ['ideal_loop c.cir:2, c.cir:5']],
  ['a loop of coils alone', ['l1 out 0 1m', 'l2 out 0 2m'], []],
  ['a shorted source', ['v2 out out ac 1'], ['source_shorted c.cir:5']],
  ['a name used twice', ['r1 out 0 3'], ['name_used_twice c.cir:5']],
  ['a coupling to nothing', ['l1 out 0 1m', 'k1 l1 l7 0.5'], ['coupling_without_coil c.cir:6']],
  [
    'a coupling above one',
    ['l1 out 0 1m', 'l2 out 0 1m', 'k1 l1 l2 1.5'],
    ['coupling_out_of_range c.cir:7'],
  ],
  ['a coupling to itself', ['l1 out 0 1m', 'k1 l1 l1 0.5'], ['coupling_to_itself c.cir:6']],
  [
    'couplings that would give out energy',
    ['l1 out 0 1m', 'l2 out 0 1m', 'l3 out 0 1m', 'k1 l1 l2 0.9', 'k2 l2 l3 0.9', 'k3 l1 l3 -0.9'],
    ['coupling_impossible k1, k2, k3'],
  ],
])('%s', (_name, extra, expected) => {
  expect(findings(...good, ...extra)).toEqual(expected);
});

test('the loop and the floating nodes are named', () => {
  const [loop] = checkNetlist(
    readSpice('t\nv1 in 0 ac 1\nl1 in x 1m\nl2 x 0 1m\nr1 x 0 8', 'c.cir').netlist,
  );
  expect(loop.what).toBe('l1, l2, v1 form a loop of ideal sources and coils.');
  const [island] = checkNetlist(readSpice('t\nv1 in 0 ac 1\nr1 in 0 8\nr2 p q 8', 'c.cir').netlist);
  expect(island.what).toContain('Nodes p, q float');
});

test('an empty network is told', () => {
  expect(findings()).toEqual(['empty_network ']);
});
