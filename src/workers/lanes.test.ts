import type * as comlink from 'comlink';
import type { Samples } from '@/core/measurement/samples';
import { giveNumbers, startLanes } from './lanes';
import { problem, ProblemError } from '@/core/problem';
import { attempt } from './result';
import { runAfter, runAlone, type Run } from './run';
import type { WorkerService } from './startService';

const samples = (level: number): Samples => ({
  frequencyHz: Float64Array.of(100, 200),
  magnitude: Float64Array.of(level, level),
  phaseDeg: null,
});

/** A worker that answers at once, in this thread. */
function invented<S extends object>(service: S) {
  const log = { ended: 0, told: 0 };
  const worker: WorkerService<S> = {
    ask: async <R>(question: (service: comlink.Remote<S>) => R): Promise<Awaited<R>> => {
      const answer = await question(service as comlink.Remote<S>);
      return answer;
    },
    tell(message) {
      log.told++;
      void message(service as comlink.Remote<S>);
    },
    failure: new Promise(() => undefined),
    end: () => void log.ended++,
  };
  return { worker, log };
}

/** Counts what each of the workers that are started is given. */
function inventedLanes() {
  const given: string[][] = [];
  const logs: { ended: number }[] = [];
  const lanes = startLanes(() => {
    const own: string[] = [];
    given.push(own);
    const { worker, log } = invented({
      load(id: string) {
        own.push(id);
        return Promise.resolve();
      },
    });
    logs.push(log);
    return worker;
  });
  return { lanes, given, logs };
}

test('both lanes get all numbers, each once, however often they are handed over', () => {
  const { lanes, given } = inventedLanes();
  lanes.load(new Map([['a', samples(80)]]));
  lanes.load(
    new Map([
      ['a', samples(80)],
      ['b', samples(81)],
    ]),
  );
  lanes.load(new Map());
  expect(given).toEqual([
    ['a', 'b'],
    ['a', 'b'],
  ]);
});

test('closing ends both', () => {
  const { lanes, logs } = inventedLanes();
  lanes.close();
  expect(logs.map(({ ended }) => ended)).toEqual([1, 1]);
});

test('numbers are given without waiting for an answer', () => {
  const { worker, log } = invented({ load: () => new Promise<void>(() => undefined) });
  giveNumbers(worker, 'a', samples(80));
  expect(log.told).toBe(1);
});

describe('a question to a worker of its own', () => {
  test('the answer comes back, and the worker ends with it', async () => {
    const { worker, log } = invented({ work: () => Promise.resolve(attempt(() => 42)) });
    const run = runAlone(worker, (service) => service.work());
    await expect(run.found).resolves.toBe(42);
    expect(log.ended).toBe(1);
  });

  test('a problem is one on this side too, and the worker ends as well', async () => {
    const refused = () =>
      attempt((): number => {
        throw problem('no_box', 'Box A', 'There is no room.', '', 'Make it larger.');
      });
    const { worker, log } = invented({ work: () => Promise.resolve(refused()) });
    const { found } = runAlone(worker, (service) => service.work());
    await expect(found).rejects.toBeInstanceOf(ProblemError);
    await expect(found).rejects.toThrow('There is no room.');
    expect(log.ended).toBe(1);
  });

  test('a failure of the program is not taken for a problem of the design', async () => {
    const { worker } = invented({
      work: (): Promise<{ readonly ok: true; readonly value: number }> =>
        Promise.reject(new TypeError('broken')),
    });
    const { found } = runAlone(worker, (service) => service.work());
    await expect(found).rejects.toThrow(TypeError);
  });

  test('stopping ends it at once, and nothing is answered any more', async () => {
    const { worker, log } = invented({
      work: () => new Promise<{ readonly ok: true; readonly value: number }>(() => undefined),
    });
    const run = runAlone(worker, (service) => service.work());
    run.stop();
    expect(log.ended).toBe(1);
    const first = await Promise.race([
      run.found,
      new Promise((resolve) => setTimeout(() => resolve('still open'), 20)),
    ]);
    expect(first).toBe('still open');
  });
});

describe('work that waits for something', () => {
  /** Work that is begun by hand. */
  const inventedRun = () => {
    const log = { begun: 0, stopped: 0 };
    const start = (there: number): Run<number> => {
      log.begun++;
      return { found: Promise.resolve(there * 2), stop: () => void log.stopped++ };
    };
    return { log, start };
  };
  const tick = () => new Promise((resolve) => setTimeout(resolve, 5));

  test('begins with it, and answers as it would by itself', async () => {
    const { log, start } = inventedRun();
    const run = runAfter(Promise.resolve(21), start);
    expect(log.begun).toBe(0);
    await expect(run.found).resolves.toBe(42);
    run.stop();
    expect(log).toEqual({ begun: 1, stopped: 1 });
  });

  test('stopped before that, it never begins and never answers', async () => {
    const { log, start } = inventedRun();
    let give: (value: number) => void = () => undefined;
    const run = runAfter(new Promise<number>((resolve) => (give = resolve)), start);
    let answered = false;
    void run.found.then(() => (answered = true));
    run.stop();
    give(1);
    await tick();
    expect([log.begun, answered]).toEqual([0, false]);
  });

  test('what can’t be had is its failure', async () => {
    const run = runAfter(Promise.reject(new Error('away')), inventedRun().start);
    await expect(run.found).rejects.toThrow('away');
  });
});
