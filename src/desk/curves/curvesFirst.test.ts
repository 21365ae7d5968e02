import { createStore } from 'zustand/vanilla';
import { afterPicture, curvesFirst } from './curvesFirst';

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

function desk() {
  const store = createStore(() => ({
    design: 'a',
    prediction: 'of a',
    predictionFailure: null as string | null,
    selection: '',
  }));
  const told: string[] = [];
  const { subscribe, catchUp } = curvesFirst(store);
  const stop = subscribe(() => {
    const { design, prediction, selection } = store.getState();
    told.push(`${design}, ${prediction}${selection}`);
  });
  return { store, told, stop, catchUp };
}

test('what does not touch the design is told at once', () => {
  const { store, told } = desk();
  store.setState({ selection: ', L1' });
  expect(told).toEqual(['a, of a, L1']);
});

test('a changed design is told together with its curves, once', () => {
  const { store, told } = desk();
  store.setState({ design: 'b' });
  store.setState({ selection: ', L1' });
  expect(told).toEqual([]);
  store.setState({ prediction: 'of b' });
  jest.runAllTimers();
  expect(told).toEqual(['b, of b, L1']);
});

test('curves that fail or do not come hold nothing up', () => {
  const { store, told, stop } = desk();
  store.setState({ design: 'b' });
  jest.advanceTimersByTime(12);
  expect(told).toEqual(['b, of a']);
  store.setState({ design: 'c' });
  store.setState({ predictionFailure: 'no' });
  expect(told).toEqual(['b, of a', 'c, of a']);
  stop();
  store.setState({ selection: ', L1' });
  expect(told).toHaveLength(2);
});

test('what waits for the curves is told at once when it is needed, and not without need', () => {
  const { store, told, catchUp } = desk();
  catchUp();
  expect(told).toEqual([]);
  store.setState({ design: 'b' });
  catchUp();
  expect(told).toEqual(['b, of a']);
  store.setState({ prediction: 'of b' });
  catchUp();
  expect(told.slice(1)).toEqual(['b, of b']);
  store.setState({ selection: ', L1' });
  expect(told.slice(2)).toEqual(['b, of b, L1']);
});

test('curves of several key strokes are told of once, after their picture', () => {
  const store = createStore(() => ({ design: 'a', prediction: '', predictionFailure: null }));
  const told: string[] = [];
  let show = () => undefined as void;
  curvesFirst(store, (run) => (show = run)).subscribe(() => told.push(store.getState().prediction));
  for (const design of ['b', 'c']) {
    store.setState({ design });
    store.setState({ prediction: `of ${design}` });
  }
  jest.runAllTimers();
  expect(told).toEqual([]);
  show();
  expect(told).toEqual(['of c']);
});

test('where no frames are shown it goes on by the clock', () => {
  const run = jest.fn();
  afterPicture(run);
  jest.advanceTimersByTime(40);
  expect(run).toHaveBeenCalledTimes(1);
  jest.runAllTimers();
  expect(run).toHaveBeenCalledTimes(1);
});
