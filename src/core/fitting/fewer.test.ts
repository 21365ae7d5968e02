import { partValue } from '@/core/document/partKinds';
import { allFree, readDemo, withoutBaffle } from '../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { newPart } from '@/core/editing/newPart';
import { predict } from '@/core/prediction/predict';
import { partsOf, type Design, type Part } from '@/core/document/schema';
import { withFewerParts } from './fewer';
import { fitDesign, withFit } from './fit';

const { design: demo, data } = readDemo();
const freed = allFree(withoutBaffle(demo));

describe('leaving out what hardly matters', () => {
  // Two parts that do nothing: 300 Ω across the woofer, and a hair of a coil before the tweeter.
  // Held close to that, so that the fit can't make something of them.
  const idle = (lowest: number, highest: number) => ({
    fit: { isFree: true, lowest, highest, tie: null },
  });
  const shunt: Part = {
    ...newPart(freed, 'resistor', 'shunt', 'idle-r'),
    ...({ kind: 'resistor', ohms: 300, ...idle(280, 320) } as const),
  };
  const series: Part = {
    ...newPart(freed, 'coil', 'series', 'idle-l'),
    ...({ kind: 'coil', henries: 1e-6, seriesOhms: 0, ...idle(0.9e-6, 1.1e-6) } as const),
  };
  const fitted = withFit(freed, fitDesign(freed, data, { seed: 1, starts: [0, 1] }));
  const padded = [
    { type: 'addPart', wayId: fitted.ways[0].id, index: 2, part: shunt } as const,
    { type: 'addPart', wayId: fitted.ways[2].id, index: 0, part: series } as const,
  ].reduce<Design>(applyChange, fitted);

  const least = withFewerParts(padded, data, { worthDb: 0.02 });

  test('turns off the parts that do nothing, and keeps the rest as good', () => {
    const { omissions, design, before, after } = least;
    const gone = omissions.map(({ partId }) => partId);
    expect(gone).toEqual(expect.arrayContaining(['idle-r', 'idle-l']));
    expect(after.merit).toBeLessThan(before.merit + 0.02 * gone.length);
    // Nothing is credited to a part's going that fitting the rest would have brought anyway.
    for (const { addedDb } of omissions) expect(addedDb).toBeGreaterThan(-0.05);
    for (const part of partsOf(design))
      expect([part.id, part.isOff]).toEqual([part.id, gone.includes(part.id)]);
    // What it says is what the design then has.
    const { summary } = predict(design, data);
    expect(summary.lowestImpedance!.ohms).toBeCloseTo(after.figures.lowestOhms, 1);
  });

  test('asks more of each part when it is told to', () => {
    const few = withFewerParts(padded, data, { worthDb: 3 });
    expect(few.omissions.length).toBeGreaterThan(least.omissions.length);
    for (const { addedDb } of few.omissions) expect(addedDb).toBeLessThan(3);
  });

  test('leaves alone what is held, locked, or followed by another', () => {
    const held = partsOf(padded).reduce<Design>((design, { id, name, fit }) => {
      if (name === 'C1') return design;
      return applyChange(design, { type: 'editPart', id, set: { fit: { ...fit, isFree: false } } });
    }, padded);
    const { omissions, design } = withFewerParts(held, data, { worthDb: 100 });
    expect(omissions.map(({ partName }) => partName)).toEqual([]);
    expect(partsOf(design).every(({ isOff }) => !isOff)).toBe(true);
    const [first] = partsOf(held);
    expect(partValue(partsOf(design)[0])).toBe(partValue(first));
    expect(() => withFewerParts(demo, data, { worthDb: 1 })).toThrow('No part is free');
  });

  test('can be stopped before it begins, and changes nothing then', () => {
    const { omissions, design } = withFewerParts(padded, data, {
      worthDb: 1,
      shouldStop: () => true,
    });
    expect(omissions).toEqual([]);
    expect(design).toBe(padded);
  });
});
