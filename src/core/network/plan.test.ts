import { createDenseSolver } from './dense';
import { planNetwork } from './plan';
import { readSpice } from './spice';
import { topologyKey } from './netlist';

const plan = (text: string) => planNetwork(readSpice(`t\n${text}`, 'c.cir').netlist);

test('nodes tied to ground by ideal sources are no unknowns', () => {
  const { unknownCount, nodeNames, unknownOfNode } = plan(
    'v1 a 0 ac 1\nv2 b a ac 1\nr1 b c 8\nr2 c 0 8',
  );
  expect(unknownCount).toBe(1);
  expect(Object.fromEntries(nodeNames.map((name, i) => [name, unknownOfNode[i]]))).toEqual({
    '0': -1,
    a: -1,
    b: -1,
    c: 0,
  });
});

test('a floating source makes one unknown of its two nodes', () => {
  const { unknownCount, sourceSteps } = plan('v1 p q ac 1\nr1 p 0 8\nr2 q 0 8');
  expect(unknownCount).toBe(1);
  expect(sourceSteps).toHaveLength(1);
});

test('only coupled coils keep their current as an unknown', () => {
  expect(plan('v1 a 0 ac 1\nr1 a b 1\nl1 b 0 1m\nl2 b 0 1m').unknownCount).toBe(1);
  expect(plan('v1 a 0 ac 1\nr1 a b 1\nl1 b 0 1m\nl2 b 0 1m\nk1 l1 l2 0.1').unknownCount).toBe(3);
});

test('a ladder is eliminated from its far end without any fill-in', () => {
  const rungs = Array.from(
    { length: 12 },
    (_, i) => `r${i} n${i} n${i + 1} 1\nc${i} n${i + 1} 0 1u`,
  ).join('\n');
  const { slotCount, unknownCount, isDriven } = plan(`v1 n0 0 ac 1\n${rungs}`);
  expect(unknownCount).toBe(12);
  expect(slotCount).toBe(12 + 11);
  // The unknown beside the source comes last.
  expect([...isDriven].lastIndexOf(1)).toBe(11);
});

test('the plan of a bad netlist is refused', () => {
  expect(() => plan('v1 a 0 ac 1\nr1 b c 8')).toThrow('Nodes b, c float');
});

test('values are no part of the topology, losses of coils are', () => {
  const key = (text: string) => topologyKey(readSpice(`t\n${text}`, 'c.cir').netlist);
  expect(key('r1 a 0 8')).toBe(key('r1 a 0 9'));
  expect(key('r1 a 0 8')).not.toBe(key('r1 b 0 8'));
  expect(key('r1 a 0 8')).not.toBe(key('c1 a 0 8'));
});

test('the dense solver pivots, scales its rows and knows a singular matrix', () => {
  const dense = createDenseSolver(2);
  const solve = (re: number[], right: number[]) => {
    dense.re.set(re);
    dense.im.fill(0);
    dense.rightRe.set(right);
    dense.rightIm.fill(0);
    return dense.solve() ? [...dense.rightRe] : null;
  };
  expect(solve([0, 2, 3, 0], [4, 9])).toEqual([3, 2]);
  expect(solve([1e-20, 0, 0, 1e20], [1e-20, 2e20])).toEqual([1, 2]);
  expect(solve([1, 2, 2, 4], [1, 1])).toBeNull();
  expect(solve([0, 0, 0, 1], [1, 1])).toBeNull();
});
