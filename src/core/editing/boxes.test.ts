import { readDemo } from '../../../tests/fixtures';
import { designSchema, type Design } from '@/core/document/schema';
import { differences } from '@/core/told/difference';
import { applyChange } from './applyChange';

const { design: demo } = readDemo();
const [asBuilt] = demo.boxes;
const used = { ...asBuilt, isUsed: true };
const isSound = (design: Design) => designSchema.safeParse(design).success;

test('a box is added, changed in its place, and taken away again', () => {
  const second = { ...asBuilt, id: 'second', name: 'Second' };
  const two = applyChange(demo, { type: 'setBox', box: second });
  expect(two.boxes.map(({ id }) => id)).toEqual(['as-built', 'second']);
  const renamed = applyChange(two, { type: 'setBox', box: { ...asBuilt, name: 'First' } });
  expect(renamed.boxes.map(({ name }) => name)).toEqual(['First', 'Second']);
  expect(applyChange(renamed, { type: 'removeBox', id: 'as-built' }).boxes).toEqual([second]);
});

test('a driver is in one box in use: another that is used takes its place, one for other drivers does not', () => {
  const first = applyChange(demo, { type: 'setBox', box: used });
  const rival = applyChange(first, { type: 'setBox', box: { ...used, id: 'rival' } });
  expect(rival.boxes.map(({ isUsed }) => isUsed)).toEqual([false, true]);
  const chamber = { ...used, id: 'chamber', driverIds: ['midrange'] };
  const both = applyChange(first, { type: 'setBox', box: chamber });
  expect(both.boxes.map(({ isUsed }) => isUsed)).toEqual([true, true]);
  for (const design of [first, rival, both]) expect(isSound(design)).toBe(true);
});

test('a driver that goes leaves its boxes; a box that goes leaves its chambers by themselves', () => {
  const inner = { ...asBuilt, id: 'inner', driverIds: ['midrange'], insideId: 'as-built' };
  const design = applyChange(demo, { type: 'setBox', box: inner });
  const without = applyChange(design, { type: 'removeDriver', id: 'midrange' });
  expect(without.boxes[1].driverIds).toEqual([]);
  const alone = applyChange(design, { type: 'removeBox', id: 'as-built' });
  expect(alone.boxes).toEqual([{ ...inner, insideId: null }]);
  for (const one of [without, alone]) expect(isSound(one)).toBe(true);
});

test('what differs between two boxes is told in words', () => {
  const vented = { ...used, kind: 'vented' as const, fill: 'walls' as const };
  const all = differences(demo, applyChange(demo, { type: 'setBox', box: vented }));
  expect(all).toHaveLength(1);
  const [told] = all;
  expect(told).toMatchObject({
    ...{ about: 'box', what: 'As built' },
    before: 'sealed, 300 × 710 × 380 mm, filled, not in use',
    after: 'vented, 300 × 710 × 380 mm, port 70 mm, 150 mm long, its walls lined, in use',
  });
  const slot = {
    ...vented,
    port: { ...vented.port, count: 2, shape: 'slot' as const },
  };
  const [slotted] = differences(demo, applyChange(demo, { type: 'setBox', box: slot }));
  expect(slotted.after).toContain('port 2 × 200 × 25 mm, 150 mm long');
  const id = demo.drivers[0].responseId!;
  const measured = applyChange(demo, {
    type: 'editMeasurement',
    id,
    set: { inBox: { kind: 'vented', litres: 50, fill: 'none', tunedHz: 34, ql: null } },
  });
  expect(differences(demo, measured)).toMatchObject([
    {
      ...{ about: 'measurement', what: 'woofer response, box' },
      ...{ before: 'sealed 57.1 l, filled', after: 'vented 50 l, tuned to 34 Hz' },
    },
  ]);
});
