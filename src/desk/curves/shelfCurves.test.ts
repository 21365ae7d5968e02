import { sumIfReversedDb } from '@/core/prediction/derived';
import { createPredictor } from '@/core/prediction/predict';
import { readDemo } from '../../../tests/fixtures';
import { reversedWay, shelfCurves, waysOf } from './shelfCurves';

const { design, data } = readDemo();
const prediction = createPredictor()(design, data);
const named = waysOf(new Map(design.ways.map(({ id, name }) => [id, name])));

test('the middle one of three ways is reversed until another is chosen', () => {
  expect(reversedWay(prediction, null)).toBe(design.ways[1].id);
  expect(reversedWay(prediction, design.ways[0].id)).toBe(design.ways[0].id);
  expect(reversedWay({ ...prediction, ways: prediction.ways.slice(0, 2) }, null)).toBe(
    design.ways[1].id,
  );
  expect(reversedWay({ ...prediction, ways: [] }, null)).toBeNull();
});

test('each chart gets the curves of its subject', () => {
  const curves = shelfCurves(prediction, named, design.ways[2].id);
  expect(curves.onAxis.map(({ id }) => id)).toEqual([...design.ways.map(({ id }) => id), 'sum']);
  expect(curves.reversal[0].values).toEqual(sumIfReversedDb(prediction.sum!, prediction.ways[2]));
  expect(curves.load.map(({ values }) => values)).toEqual([
    prediction.impedance!.phaseDeg,
    prediction.impedance!.ohms,
  ]);
});

test('a way that was removed in the meantime is not drawn', () => {
  const { onAxis } = shelfCurves(prediction, named.slice(1), null);
  expect(onAxis.map(({ id }) => id)).toEqual([design.ways[1].id, design.ways[2].id, 'sum']);
});
