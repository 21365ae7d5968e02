import { emptyDesign, type Design } from '@/core/document/schema';
import { emptyHistory, redone, runKey, undone, withStep, type History } from './history';

const named = (name: string): Design => emptyDesign(name);
const step = (history: History, from: string, to: string, mergeKey: string | null, atMs: number) =>
  withStep(history, { before: named(from), after: named(to), label: to, mergeKey, atMs });

test('undo and redo walk back and forth', () => {
  const history = step(step(emptyHistory, 'a', 'b', null, 0), 'b', 'c', null, 1);
  const once = undone(history)!;
  expect(once.design.name).toBe('b');
  const twice = undone(once.history)!;
  expect(twice.design.name).toBe('a');
  expect(undone(twice.history)).toBeNull();
  const again = redone(twice.history)!;
  expect(again.design.name).toBe('b');
  expect(redone(redone(again.history)!.history)).toBeNull();
});

test('a new step forgets what was undone', () => {
  const back = undone(step(emptyHistory, 'a', 'b', null, 0))!.history;
  expect(step(back, 'a', 'x', null, 1).redo).toEqual([]);
});

test('nudges of one value in quick succession are one step; a pause or another value makes a new one', () => {
  let history = step(emptyHistory, 'a', 'b', 'l1', 0);
  history = step(history, 'b', 'c', 'l1', 500);
  expect(history.undo).toHaveLength(1);
  expect(undone(history)!.design.name).toBe('a');
  history = step(history, 'c', 'd', 'l1', 5000);
  history = step(history, 'd', 'e', 'c1', 5100);
  expect(history.undo).toHaveLength(3);
});

test('a step that was redone is not merged into', () => {
  const back = undone(step(emptyHistory, 'a', 'b', 'l1', 0))!.history;
  expect(step(redone(back)!.history, 'b', 'c', 'l1', 10).undo).toHaveLength(2);
});

test('five hundred steps are kept', () => {
  let history = emptyHistory;
  for (let i = 0; i < 600; i++) history = step(history, `${i}`, `${i + 1}`, null, i);
  expect(history.undo).toHaveLength(500);
});

test('a run is one step however long it takes, and two runs are two', () => {
  let history = step(emptyHistory, 'a', 'b', runKey('fit 1'), 0);
  history = step(history, 'b', 'c', runKey('fit 1'), 60_000);
  history = step(history, 'c', 'd', runKey('fit 2'), 60_001);
  expect(history.undo.map(({ before, after }) => before.name + after.name)).toEqual(['ac', 'cd']);
});
