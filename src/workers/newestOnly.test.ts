import { newestOnly } from './newestOnly';

/** Jobs that end when the test says so. */
function bench() {
  const started: string[] = [];
  const ends: (() => void)[] = [];
  const ask = newestOnly((request: string) => {
    started.push(request);
    return new Promise<void>((resolve) => ends.push(resolve));
  });
  const end = async () => {
    ends.shift()!();
    await new Promise((resolve) => setTimeout(resolve, 0));
  };
  return { ask, started, end };
}

test('an idle worker starts at once', () => {
  const { ask, started } = bench();
  ask('a');
  expect(started).toEqual(['a']);
});

test('of those that came meanwhile only the newest is done', async () => {
  const { ask, started, end } = bench();
  for (const request of ['a', 'b', 'c', 'd']) ask(request);
  expect(started).toEqual(['a']);
  await end();
  expect(started).toEqual(['a', 'd']);
  await end();
  ask('e');
  expect(started).toEqual(['a', 'd', 'e']);
});

test('nothing is done twice', async () => {
  const { ask, started, end } = bench();
  ask('a');
  ask('b');
  await end();
  await end();
  expect(started).toEqual(['a', 'b']);
});
