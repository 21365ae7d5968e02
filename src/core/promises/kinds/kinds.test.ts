/** What must hold of every kind of promise, whatever the brief says and whatever is known. */
import fc from 'fast-check';
import { readSession } from '../../../../tests/fixtures';
import {
  briefSchema,
  emptyBrief,
  promiseEntrySchema,
  promiseKinds,
  type Brief,
} from '@/core/document/briefSchema';
import { emptyDesign, type Design } from '@/core/document/schema';
import { createPredictor } from '@/core/prediction/predict';
import { judge } from '@/core/promises/judge';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { conditionsOf, promisesOf } from '@/core/promises/promisesOf';
import { figureBeside, figureText, kinds, kindsInOrder, limitText } from './kinds';

const { design, data } = readSession();
const predicted = createPredictor()(design, data);

test('every kind that a document may hold has its facts, and no other', () =>
  expect(kindsInOrder.toSorted()).toEqual([...promiseKinds].toSorted()));

test.each(kindsInOrder)('%s: its words, its unit and where it is mended', (kind) => {
  const { title, meaning, decimals, scale, usual, side } = kinds[kind];
  expect(title).toMatch(/^[A-Z]/);
  expect(title.length).toBeLessThan(20);
  expect(meaning).toMatch(/^[A-Z].*[^.\s]$/);
  expect(decimals).toBeGreaterThanOrEqual(0);
  expect(scale).toBeGreaterThan(0);
  expect(Number.isFinite(usual)).toBe(true);
  const limit = limitText({ kind, atLeast: null, atMost: null, [side]: usual });
  expect(limit).toMatch(side === 'atLeast' ? /^≥ / : /^≤ /);
});

test.each(kindsInOrder)('%s: a limit that was made by hand can be stored', (kind) => {
  const { side, usual } = kinds[kind];
  const entry = {
    ...{ id: 'own', kind, isOff: false, atLeast: null, atMost: null, [side]: usual },
    ...{ fromHz: null, toHz: null, angle: null, weight: 3 },
  };
  expect(promiseEntrySchema.safeParse(entry).success).toBe(true);
});

test.each(kindsInOrder)(
  '%s: with nothing known it says what it needs, as “needs …” goes on',
  (kind) => {
    const bare = emptyDesign('Nothing');
    const { side, usual } = kinds[kind];
    const [promise] = promisesOf({
      ...bare,
      promises: [
        {
          ...{ id: 'own', kind, isOff: false, atLeast: null, atMost: null, [side]: usual },
          ...{ fromHz: null, toHz: null, angle: null, weight: null },
        },
      ],
    });
    const [verdict] = judge(null, [promise]);
    expect(verdict.value).toBeNull();
    expect(verdict.isKept).toBeNull();
    expect(verdict.needs).toMatch(/^[a-z]/);
    expect(verdict.needs).not.toMatch(/\.$|undefined|null/);
  },
);

test('an empty brief asks for nothing, and a full one says where each limit comes from', () => {
  expect(promisesOf(emptyDesign('Nothing'))).toEqual([]);
  const all = promisesOf(design);
  expect(all.length).toBeGreaterThan(12);
  for (const { kind, source, weight, atLeast, atMost } of all) {
    expect(source.arithmetic).toMatch(/^[A-Z0-9].*\.$/s);
    expect(source.arithmetic).not.toMatch(/NaN|undefined|Infinity|null/);
    expect(weight).toBeGreaterThanOrEqual(1);
    expect(weight).toBeLessThanOrEqual(5);
    // One side is limited, the one that its kind usually has.
    expect([kind, (atLeast === null) !== (atMost === null)]).toEqual([kind, true]);
    expect(kinds[kind].side === 'atLeast' ? atLeast : atMost).not.toBeNull();
  }
});

/** Briefs as a form can make them: each answer there or not, in its range. */
const answers = fc.record(
  {
    nearestSeatMm: fc.integer({ min: 500, max: 6000 }),
    farthestSeatMm: fc.integer({ min: 600, max: 12_000 }),
    spreadDeg: fc.integer({ min: 1, max: 80 }),
    speakerCount: fc.integer({ min: 1, max: 7 }),
    ratedWatts: fc.integer({ min: 1, max: 1000 }),
    ratedIntoOhms: fc.constantFrom(2, 4, 8, 16),
    lowestLoadOhms: fc.constantFrom(2, 3.2, 4, 8),
    ratedOhms: fc.constantFrom(4, 6, 8),
    loudnessDb: fc.integer({ min: 60, max: 115 }),
    headroomDb: fc.integer({ min: 0, max: 25 }),
    reach3Hz: fc.integer({ min: 20, max: 200 }),
    reach10Hz: fc.integer({ min: 15, max: 150 }),
    widthMm: fc.integer({ min: 60, max: 1000 }),
    heightMm: fc.integer({ min: 60, max: 2000 }),
    depthMm: fc.integer({ min: 60, max: 1000 }),
    money: fc.integer({ min: 10, max: 5000 }),
    evennessDb: fc.integer({ min: 1, max: 12 }),
  },
  { requiredKeys: [] },
);
const asBrief = (said: object): Brief | null => {
  const brief = { ...emptyBrief, ...said };
  return briefSchema.safeParse(brief).success ? brief : null;
};

test('whatever a brief says, its promises are finite, singular and judged without a slip', () => {
  let tried = 0;
  fc.assert(
    fc.property(answers, (said) => {
      const brief = asBrief(said);
      if (!brief) return;
      tried++;
      for (const asked of [
        { ...design, brief },
        { ...emptyDesign('Bare'), brief },
      ]) {
        const all = promisesOf(asked);
        expect(new Set(all.map(({ id }) => id)).size).toBe(all.length);
        for (const { atLeast, atMost, source } of all) {
          for (const limit of [atLeast, atMost])
            if (limit !== null) expect(Number.isFinite(limit)).toBe(true);
          expect(source.arithmetic).not.toMatch(/NaN|undefined|Infinity|null/);
        }
      }
    }),
    { numRuns: 150, seed: 4 },
  );
  expect(tried).toBeGreaterThan(30);
});

test('what is asked more strictly is not kept more easily', () => {
  const kept = ({ brief }: Pick<Design, 'brief'>) =>
    judgedPromisesOf({ ...design, brief }, predicted).filter(({ verdict }) => verdict.isKept)
      .length;
  const { brief } = design;
  const louder = { ...brief, loudnessDb: brief.loudnessDb! + 15 };
  const lower = { ...brief, reach3Hz: 25, reach10Hz: 18 };
  expect(kept({ brief: louder })).toBeLessThanOrEqual(kept({ brief }));
  expect(kept({ brief: lower })).toBeLessThanOrEqual(kept({ brief }));
});

test('a verdict and its margin agree: kept with a margin of 0 and more, broken below', () => {
  const judged = judgedPromisesOf(design, predicted);
  expect(judged.some(({ verdict }) => verdict.isKept === false)).toBe(true);
  for (const { promise, verdict } of judged) {
    if (verdict.value === null) continue;
    const { atLeast, atMost } = promise;
    const margin = Math.min(
      ...(atLeast === null ? [] : [verdict.value - atLeast]),
      ...(atMost === null ? [] : [atMost - verdict.value]),
    );
    expect(verdict.margin).toBeCloseTo(margin, 9);
  }
});

test('figures are written with sign, decimals and unit as the trade has them', () => {
  expect(figureText('on-axis', 1.54)).toBe('±1.5 dB');
  expect(figureText('reach-3', 47.6)).toBe('48 Hz');
  expect(figureText('lowest-impedance', 4.786)).toBe('4.8 Ω');
  expect(figureText('lowest-impedance', 4.786, 1)).toBe('4.79 Ω');
  expect(figureText('crossover-place', -0.174)).toBe('−0.17 oct');
  expect(figureText('reach-10', 20)).toBe('below 20 Hz');
});

test('a figure beside its limit never contradicts its verdict', () => {
  const loss = { kind: 'phase-tracking', atLeast: null, atMost: 0.3 } as const;
  expect(figureBeside(loss, 0.3)).toBe('0.30 dB');
  expect(figureBeside(loss, 0.3032)).toBe('0.303 dB');
  expect(figureBeside(loss, 0.41)).toBe('0.41 dB');
  const ohms = { kind: 'lowest-impedance', atLeast: 4.8, atMost: null } as const;
  expect(figureBeside(ohms, 4.7996)).toBe('4.7996 Ω');
  expect(figureBeside({ kind: 'reach-3', atLeast: null, atMost: 48 }, 48.3)).toBe('48.3 Hz');
  expect(figureText('cost', 80)).toBe('80');
});

test('conditions of a design without answers are all open', () => {
  const open = conditionsOf(emptyDesign('Nothing'));
  for (const key of ['seat', 'driveVolts', 'outsideLitres', 'loudnessDb'] as const)
    expect([key, open[key]]).toEqual([key, null]);
  expect(open.sheetLoads).toEqual([]);
});
