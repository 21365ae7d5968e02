import { toldRun } from './toldRun';

function* counting(to: number, each: () => void): Generator<number, string> {
  for (let k = 1; k <= to; k++) {
    each();
    yield k;
  }
  return 'found';
}

test('the first progress is told at once, what comes within a tenth of a second is not', () => {
  const clock = jest.spyOn(performance, 'now');
  let nowMs = 1000;
  clock.mockImplementation(() => nowMs);
  const told: number[] = [];
  const found = toldRun(
    counting(10, () => (nowMs += 30)),
    (progress) => told.push(progress),
  );
  clock.mockRestore();
  expect(found).toBe('found');
  expect(told).toEqual([1, 5, 9]);
});

test('a search that ends at once tells nothing', () => {
  const tell = jest.fn();
  expect(
    toldRun(
      counting(0, () => undefined),
      tell,
    ),
  ).toBe('found');
  expect(tell).not.toHaveBeenCalled();
});
