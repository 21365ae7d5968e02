import { partValue } from '@/core/document/partKinds';
import { readDemo, seededRandom, withoutBaffle } from '../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { createPredictor } from '@/core/prediction/predict';
import { designSchema, partsOf, type Design } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { families, neighboursOf } from './candidates';
import { bestSoFar, brokenCountOf, listed } from './shortlist';
import { createExploration, explore, tryNetwork, type TryAll } from './explore';
import { type Exploration, type FoundNetwork, type Try } from './found';
import { fitDesign } from '@/core/fitting/fit';
import {
  isAtItsEnd,
  partCountOf,
  withWays,
  type NetworkRecipe,
  type WayRecipe,
} from '@/core/filters/grammar';
import { limitedTo, noPartLimits, type SearchLimits } from '@/core/fitting/limits';
import { outlayOf } from '@/core/fitting/outlay';
import { picksOf } from './picks';
import { stepInStock } from '@/core/fitting/stock';

const { design: mounted, data } = readDemo();
// Without a baffle nothing is known off the axis, and a search is quicker.
const demo = withoutBaffle(mounted);
const [woofer, midrange, tweeter] = demo.drivers;
const way = (driverId: string, set: Partial<WayRecipe>): WayRecipe => ({
  driverId,
  ...{ highPass: 0, lowPass: 0, pad: 'none', correction: 'none', trap: 'none', isReversed: false },
  ...set,
});
const twoWay: Design = { ...demo, drivers: [tweeter, midrange], boxes: [], ways: [] };
const exploration = createExploration(twoWay, data, limitedTo(6));
const inTurn =
  (one: Exploration): TryAll =>
  ({ tries, effort }) =>
    Promise.resolve(tries.flatMap((wish) => tryNetwork(one, wish, effort) ?? []));
const fresh = (recipe: NetworkRecipe, set: Partial<Try> = {}): Try => ({
  ...{ recipe, from: null, emphasis: 'usual', bar: null },
  ...set,
});

test('drivers are put in the order of their bands, whatever order they came in', () => {
  expect(exploration.outlines.map(({ name }) => name)).toEqual(['Midrange', 'Tweeter']);
  expect(
    createExploration(
      { ...demo, drivers: [tweeter, woofer, midrange] },
      data,
      limitedTo(9),
    ).outlines.map(({ name }) => name),
  ).toEqual(['Woofer', 'Midrange', 'Tweeter']);
});

describe('limits', () => {
  const within = (limits: Partial<SearchLimits>) =>
    createExploration(twoWay, data, { ...limitedTo(7), ...limits });

  test('of coil size and money hold for every network that is found', async () => {
    const limits = { mostParts: 4, mostHenries: 0.4e-3, mostOutlay: 30 };
    const narrow = within(limits);
    const { networks } = await explore(narrow, inTurn(narrow));
    expect(networks.length).toBeGreaterThan(0);
    for (const { ways, figures } of networks) {
      const parts = ways.flatMap((one) => one.parts);
      for (const part of parts)
        if (part.kind === 'coil') expect(part.henries).toBeLessThanOrEqual(0.4e-3 * (1 + 1e-9));
      expect(figures.outlay).toBeLessThanOrEqual(30 * 1.02);
      expect(outlayOf(parts, noPartLimits.rates)).toBeCloseTo(figures.outlay, 1);
    }
  }, 60_000);

  test('of values that one can have hold for every network, each owned piece used once', async () => {
    const own = { owned: [4.7e-6, 8.2e-6] };
    const stock = { resistor: 'E12', coil: { stepOf: 0.1e-3 }, capacitor: own } as const;
    const shelf = within({ mostParts: 5, stock });
    const stages: (string | null)[] = [];
    const { networks } = await explore(shelf, inTurn(shelf), ({ stage }) => stages.push(stage));
    expect(stages.at(-2)).toBe('taking values that one can have');
    expect(networks.length).toBeGreaterThan(1);
    // Where something keeps all, only such are listed.
    const broken = networks.map(brokenCountOf);
    if (broken.includes(0)) expect(new Set(broken).size).toBe(1);
    for (const { ways, figures, isOfStock, report } of networks) {
      expect(isOfStock).toBe(true);
      const left = [...own.owned];
      for (const part of ways.flatMap((one) => one.parts)) {
        const value = partValue(part);
        if (part.kind === 'capacitor') {
          const at = left.findIndex((one) => Math.abs(one / value - 1) < 1e-9);
          expect(at).toBeGreaterThanOrEqual(0);
          left.splice(at, 1);
        } else if (part.kind === 'coil')
          expect(value / 0.1e-3).toBeCloseTo(Math.round(value / 0.1e-3), 6);
        else expect(stepInStock(value, 'E12', 0)).toBeCloseTo(value, 6);
      }
      // What is told is what these values make.
      const onAxis = report!.promises.find(({ kind }) => kind === 'on-axis')!;
      expect(onAxis.value).toBeCloseTo(figures.deviationDb, 2);
    }
  }, 60_000);

  test('of values that no network can have leave nothing, not others', () => {
    const one = { owned: [1e-6] };
    const bare = within({
      mostParts: 3,
      stock: { resistor: { owned: [1] }, coil: { owned: [1e-4] }, capacitor: one },
    });
    const recipe: NetworkRecipe = {
      ways: [way('midrange', {}), way('tweeter', { highPass: 1 })],
      crossHz: [2000],
    };
    const found = tryNetwork(bare, fresh(recipe), 'look')!;
    const ended = {
      ...found,
      report: { promises: [], crossovers: [], mute: [], lossDb: 0, trackingDeg: 0 },
    };
    expect(bestSoFar([[ended]], bare.limits)).toEqual([ended]);
    expect(bestSoFar([[ended]], bare.limits, true)).toEqual([]);
  });

  test('of heat leave out networks that are hotter', () => {
    const cool = within({ mostWatts: 20, mostParts: 6 });
    const recipe: NetworkRecipe = {
      ways: [way('midrange', { lowPass: 2 }), way('tweeter', { highPass: 2, pad: 'series' })],
      crossHz: [2000],
    };
    const found = tryNetwork(cool, fresh(recipe), 'look')!;
    expect(found.figures.hottestWatts).toBeGreaterThan(1e-3);
    expect(bestSoFar([[found]], { ...cool.limits, mostWatts: 1e-3 })).toEqual([]);
    expect(bestSoFar([[found]], limitedTo(6))).toEqual([found]);
  });
});

describe('a whole search', () => {
  const stages: (string | null)[] = [];
  const searched = explore(exploration, inTurn(exploration), ({ stage }) => stages.push(stage));

  test('finds networks that nothing simpler beats, each as good as it says', async () => {
    const { networks, tried } = await searched;
    expect(stages.at(-1)).toBeNull();
    expect(stages.length).toBeGreaterThan(4);
    expect(tried).toBeGreaterThan(families(exploration).length);
    expect(networks.length).toBeGreaterThan(2);
    expect(listed(networks, limitedTo(6))).toEqual(networks);
    for (const { ways, figures, partCount, report } of networks) {
      expect(partCount).toBeLessThanOrEqual(6);
      const design = withWays(twoWay, ways);
      expect(designSchema.safeParse(design).success).toBe(true);
      // Every promise as it is judged everywhere else.
      const judged = judgedPromisesOf(design, createPredictor()(design, data));
      for (const { id, value, isKept } of report!.promises)
        expect([id, value, isKept]).toEqual([
          id,
          ...judged
            .filter(({ promise }) => promise.id === id)
            .flatMap(({ verdict }) => [verdict.value, verdict.isKept]),
        ]);
      const onAxis = judged.find(({ promise }) => promise.kind === 'on-axis')!;
      expect(Math.abs(onAxis.verdict.value! - figures.deviationDb)).toBeLessThan(0.02);
      // Nothing is at the end of what shops sell, and coils are as one would buy them.
      expect(ways.flatMap(({ parts }) => parts).some(isAtItsEnd)).toBe(false);
      for (const part of ways.flatMap(({ parts }) => parts))
        if (part.kind === 'coil') expect(part.core === 'magnetic').toBe(part.henries >= 1.5e-3);
    }
  }, 60_000);

  test('comes to the same every time', async () => {
    const again = await explore(exploration, inTurn(exploration));
    expect(again.networks).toEqual((await searched).networks);
  }, 60_000);

  test('lists nothing that is as good without one of its parts', async () => {
    const { networks } = await searched;
    for (const { ways, merit } of networks.slice(0, 3)) {
      const design = withWays(twoWay, ways);
      for (const { id } of partsOf(design)) {
        const without = applyChange(design, { type: 'editPart', id, set: { isOff: true } });
        const fitted = fitDesign(
          without,
          data,
          { seed: 1, starts: [0], mayTurn: false },
          { ...exploration.goal, limits: exploration.goal.limits },
        );
        expect(fitted.merit).toBeGreaterThan(merit * 0.98);
      }
    }
  }, 60_000);

  test('says which network is best for what', async () => {
    const { networks } = await searched;
    const picks = picksOf(networks);
    const [response, ...others] = picks;
    const fewest = Math.min(...networks.map(brokenCountOf));
    const sound = networks.filter((one) => brokenCountOf(one) === fewest);
    expect(response.network.figures.errorDb).toBe(
      Math.min(...sound.map(({ figures }) => figures.errorDb)),
    );
    for (const { network, because } of others) {
      expect(brokenCountOf(network)).toBe(fewest);
      expect(network.figures.errorDb).toBeLessThanOrEqual(response.network.figures.errorDb + 0.3);
      expect(because.length).toBeGreaterThan(10);
    }
    expect(picksOf([])).toEqual([]);
  });
});

test('small networks are also sought without the phase of their ways', async () => {
  const { networks } = await explore(
    createExploration(twoWay, data, limitedTo(3)),
    inTurn(createExploration(twoWay, data, limitedTo(3))),
  );
  expect(networks.every(({ partCount }) => partCount <= 3)).toBe(true);
  expect(networks.length).toBeGreaterThan(0);
}, 60_000);

test('the ways keep the slopes that they are to follow', () => {
  const slope = { alignment: 'linkwitz-riley', order: 2, hz: 2500 } as const;
  const target = { highPass: slope, lowPass: null };
  const aimed: Design = {
    ...demo,
    ways: demo.ways.map((one) => (one.id === 'way-tweeter' ? { ...one, target } : one)),
  };
  const asked = createExploration(aimed, data, limitedTo(9));
  expect(asked.goal.limits.map(({ kind }) => kind)).toContain('target-slopes');
  const [recipe] = families(asked);
  const found = tryNetwork(asked, fresh(recipe), 'look')!;
  expect(found.ways.map((one) => one.target)).toEqual([null, null, target]);
});

test('four drivers are fitted as others are', () => {
  const low = { ...midrange, id: 'low', name: 'Low midrange' };
  const four = createExploration(
    { ...demo, drivers: [woofer, low, midrange, tweeter], ways: [] },
    data,
    limitedTo(14),
  );
  const all = families(four);
  expect(all.length).toBeGreaterThan(100);
  const found = tryNetwork(four, fresh(all[40]), 'grow')!;
  expect(found.ways).toHaveLength(4);
  expect(Number.isFinite(found.merit)).toBe(true);
});

test('a network grows from what it was, and is never worse than where it begins by much', () => {
  const recipe: NetworkRecipe = {
    ways: [way('midrange', { lowPass: 1 }), way('tweeter', { highPass: 2 })],
    crossHz: [2500],
  };
  const parent = tryNetwork(exploration, fresh(recipe), 'grow')!;
  for (const step of neighboursOf(parent.recipe, limitedTo(6))) {
    if (partCountOf(step) < parent.partCount) continue;
    const child = tryNetwork(exploration, fresh(step, { from: parent }), 'grow')!;
    expect(child.merit).toBeLessThan(3 * parent.merit + 1);
  }
  // One that is far from what others of its size are is not settled.
  const hopeless = tryNetwork(exploration, fresh(recipe, { bar: 1e-6 }), 'grow')!;
  expect(hopeless.merit).toBeGreaterThanOrEqual(parent.merit);
});

describe('the list', () => {
  const network = (
    partCount: number,
    deviationDb: number,
    set: Partial<FoundNetwork['figures']> = {},
  ) =>
    ({
      ...{ partCount, merit: deviationDb, ways: [], scatterDb: 0.1, report: null },
      figures: {
        ...{ deviationDb, errorDb: deviationDb, lowestOhms: 5 },
        ...{ outlay: 10, brokenCount: 0, ...set },
      },
    }) as unknown as FoundNetwork;

  test('has one of two equals, nothing that a simpler one beats, kept promises first', () => {
    const simple = network(4, 2);
    const good = network(6, 1);
    const broken = network(5, 0.8, { brokenCount: 2 });
    expect(listed([good, network(6, 1), network(7, 1.2), simple, broken], limitedTo(9))).toEqual([
      good,
      simple,
      broken,
    ]);
  });

  test('has a larger one that is flatter on axis though worse in all, and none with an idle part', () => {
    const small = network(8, 1.01, { errorDb: 1.1 });
    const flat = network(11, 0.87, { errorDb: 1.2 });
    const idle = { ...network(10, 0.5), hasIdlePart: true } as FoundNetwork;
    expect(listed([flat, small, idle], limitedTo(13))).toEqual([small, flat]);
  });

  test('is of what was not finished as long as all that was has an idle part', () => {
    const idle = { ...network(6, 0.5), report: {}, hasIdlePart: true } as unknown as FoundNetwork;
    const looked = network(7, 1);
    expect(bestSoFar([[looked], [idle]], limitedTo(9))).toEqual([looked]);
  });

  test('begins with what nine of ten builds keep', () => {
    const sure = { ...network(8, 1), keptShare: 0.95 };
    const finer = { ...network(9, 0.8), keptShare: 0.7 };
    expect(listed([finer, sure], limitedTo(9))).toEqual([sure, finer]);
  });

  test('keeps a cheaper one of the same size', () => {
    const dear = network(6, 1, { outlay: 40 });
    const cheap = network(6, 1.3, { outlay: 20 });
    expect(listed([dear, cheap], limitedTo(9))).toEqual([dear, cheap]);
  });
});

test('scatter from tolerances is what a draw of many finds', () => {
  const recipe: NetworkRecipe = {
    ways: [way('midrange', { lowPass: 2 }), way('tweeter', { highPass: 2, isReversed: true })],
    crossHz: [2500],
  };
  const { ways, scatterDb } = tryNetwork(exploration, fresh(recipe), 'grow')!;
  const grid = logGrid(200, 15_000, 12);
  const predict = createPredictor(grid);
  const nominal = withWays(twoWay, ways);
  const levels = (design: Design) => predict(design, data).sum!.levelDb;
  const before = levels(nominal);
  const random = seededRandom(5);
  let square = 0;
  const draws = 150;
  for (let n = 0; n < draws; n++) {
    const values = new Map(
      ways
        .flatMap(({ parts }) => parts)
        .map((part) => [
          part.id,
          { value: partValue(part) * (1 + 0.05 * (2 * random() - 1)), seriesOhms: null },
        ]),
    );
    const moved = levels(applyChange(nominal, { type: 'setPartValues', values })).map(
      (level, i) => level - before[i],
    );
    const mean = moved.reduce((sum, db) => sum + db, 0) / moved.length;
    square += moved.reduce((sum, db) => sum + (db - mean) ** 2, 0) / moved.length / draws;
  }
  expect(Math.abs(scatterDb / Math.sqrt(square) - 1)).toBeLessThan(0.25);
});

test('with fewer than two usable drivers there is nothing to search', () => {
  expect(() => createExploration({ ...demo, drivers: [tweeter] }, data, limitedTo(5))).toThrow(
    'A search joins two to four',
  );
});
