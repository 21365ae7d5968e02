/** Changes to the parts of a network, whatever way or bridge they are in. */
import { readSession } from '../../../tests/fixtures';
import { partsOf, type Design, type Part } from '@/core/document/schema';
import { partValue } from '@/core/document/partKinds';
import { applyChange } from './applyChange';
import { newPart } from './newPart';
import {
  editedPart,
  replaced,
  swapped,
  withoutLooseCouplings,
  withoutLooseTies,
  withValues,
} from './partChanges';

const { design } = readSession();
const find = (of: Design, id: string): Part => partsOf(of).find((one) => one.id === id)!;
const tied = (of: Design, id: string, partId: string, ratio: number): Design =>
  editedPart(of, id, (part) => ({ ...part, fit: { ...part.fit, tie: { partId, ratio } } }));

test('one part is edited; every way without it stays the very same', () => {
  const next = editedPart(design, 'l1', (part) => ({ ...part, name: 'Choke' }));
  expect(find(next, 'l1').name).toBe('Choke');
  expect(next.ways[0]).not.toBe(design.ways[0]);
  expect(next.ways.slice(1)).toEqual(design.ways.slice(1));
  next.ways.slice(1).forEach((way, w) => expect(way).toBe(design.ways[w + 1]));
  expect(next.bridges).toBe(design.bridges);
  // An edit that changes nothing shares everything.
  const same = editedPart(design, 'l1', (part) => part);
  same.ways.forEach((way, w) => expect(way).toBe(design.ways[w]));
});

test('two parts change places, over ways too; what they are stays with them', () => {
  const next = swapped(design, 'l1', 'c4');
  const places = (of: Design) => of.ways.map(({ parts }) => parts.map(({ id }) => id));
  const [woofer, , tweeter] = places(design);
  expect(places(next)[0]).toEqual(woofer.map((id) => (id === 'l1' ? 'c4' : id)));
  expect(places(next)[2]).toEqual(tweeter.map((id) => (id === 'c4' ? 'l1' : id)));
  expect(partValue(find(next, 'l1'))).toBe(partValue(find(design, 'l1')));
  expect(find(next, 'l1').place).toBe(find(design, 'c4').place);
  expect(swapped(next, 'l1', 'c4')).toEqual(design);
  expect(swapped(design, 'l1', 'nowhere')).toBe(design);
});

describe('values', () => {
  const to = (value: number, seriesOhms: number | null = null) => ({ value, seriesOhms });

  test('a coil’s resistance follows its inductance unless it is stated', () => {
    const before = find(design, 'l1');
    const doubled = find(withValues(design, new Map([['l1', to(2 * partValue(before))]])), 'l1');
    expect(partValue(doubled)).toBeCloseTo(2 * partValue(before), 12);
    const ohms = (part: Part) => ('seriesOhms' in part ? part.seriesOhms : NaN);
    expect(ohms(doubled)).toBeGreaterThan(ohms(before));
    expect(ohms(doubled)).toBeLessThan(2 * ohms(before));
    const stated = withValues(design, new Map([['l1', to(5e-3, 0.2)]]));
    expect(find(stated, 'l1')).toMatchObject({ henries: 5e-3, seriesOhms: 0.2 });
  });

  test('what is tied follows by its ratio; what is set itself does not', () => {
    const two = tied(design, 'l2', 'l1', 0.5);
    const moved = withValues(two, new Map([['l1', to(4e-3)]]));
    expect(partValue(find(moved, 'l2'))).toBeCloseTo(2e-3, 12);
    const both = withValues(
      two,
      new Map([
        ['l1', to(4e-3)],
        ['l2', to(1e-3)],
      ]),
    );
    expect(partValue(find(both, 'l2'))).toBeCloseTo(1e-3, 12);
    // What follows moves nothing back.
    expect(partValue(find(withValues(two, new Map([['l2', to(9e-3)]])), 'l1'))).toBe(
      partValue(find(design, 'l1')),
    );
  });

  test('nothing else moves', () => {
    const moved = withValues(design, new Map([['c1', to(1e-5)]]));
    for (const part of partsOf(moved))
      if (part.id !== 'c1') expect(part).toBe(find(design, part.id));
  });
});

describe('what hung on a part', () => {
  test('a coupling goes with its coil, and stays while both are coils', () => {
    const coupled = applyChange(design, {
      ...{ type: 'coupleCoils', partA: 'l1', partB: 'l4', coefficient: 0.05 },
    });
    expect(withoutLooseCouplings(coupled)).toBe(coupled);
    const resistor = { ...newPart(coupled, 'resistor', 'series', 'l4'), id: 'l4' };
    const loose = { ...coupled, ...replaced(coupled, resistor), couplings: coupled.couplings };
    expect(withoutLooseCouplings(loose).couplings).toEqual([]);
    expect(withoutLooseCouplings(design)).toBe(design);
  });

  test('a tie is let go when the other is gone, of another kind, or tied itself', () => {
    const two = tied(design, 'l2', 'l1', 0.5);
    expect(withoutLooseTies(two)).toBe(two);
    const gone = {
      ...two,
      ways: two.ways.map((way, w) => (w === 0 ? { ...way, parts: [] } : way)),
    };
    expect(find(withoutLooseTies(gone), 'l2').fit.tie).toBeNull();
    const unlike = tied(design, 'l2', 'c1', 2);
    expect(find(withoutLooseTies(unlike), 'l2').fit.tie).toBeNull();
    const chain = tied(two, 'l3', 'l2', 0.1);
    expect(find(withoutLooseTies(chain), 'l3').fit.tie).toBeNull();
    expect(find(withoutLooseTies(chain), 'l2').fit.tie).toEqual({ partId: 'l1', ratio: 0.5 });
  });

  test('a part of another kind in the place of one keeps its place in the rail', () => {
    const capacitor = { ...newPart(design, 'capacitor', 'series', 'l1'), id: 'l1', name: 'L1' };
    const next = replaced(design, capacitor);
    expect(next.ways[0].parts.map(({ id }) => id)).toEqual(
      design.ways[0].parts.map(({ id }) => id),
    );
    expect(find(next, 'l1').kind).toBe('capacitor');
  });
});
