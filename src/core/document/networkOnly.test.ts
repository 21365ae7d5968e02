import { readDemo } from '../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { judgedAs, withNetworkOf } from './networkOnly';
import { designSchema } from './schema';

const { design } = readDemo();

test('another network goes onto this design, whose answers stay', () => {
  const theirs = applyChange(applyChange(design, { type: 'setPartValue', id: 'l1', value: 5e-3 }), {
    type: 'answer',
    set: { loudnessDb: 70 },
  });
  const taken = withNetworkOf(design, theirs);
  expect(taken.ways).toEqual(theirs.ways);
  expect(taken.brief).toEqual(design.brief);
  expect(taken.measurements).toBe(design.measurements);
});

test('drivers that its ways end in and that are not here come along with what they name', () => {
  const without = applyChange(design, { type: 'removeDriver', id: 'tweeter' });
  const lean = {
    ...without,
    measurements: design.measurements.filter(({ name }) => !name.startsWith('tweeter')),
  };
  const taken = withNetworkOf(lean, design);
  expect(taken.drivers.map(({ id }) => id)).toContain('tweeter');
  expect(designSchema.safeParse(taken).error).toBeUndefined();
});

test('an old version is judged by the promises of today', () => {
  const promises = [
    {
      ...{ id: 'on-axis', kind: 'on-axis' as const, isOff: false, atLeast: null, atMost: 0.1 },
      ...{ fromHz: null, toHz: null, angle: null, weight: 5 },
    },
  ];
  const judged = judgedAs(design, { ...design, promises });
  expect(judged.promises).toBe(promises);
  expect(judged.ways).toBe(design.ways);
});
