import { readSession, withoutBaffle } from '../../../tests/fixtures';
import { movements } from '@/core/promises/movement';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { applyChange } from '@/core/editing/applyChange';
import type { Change } from '@/core/editing/change';
import { differences } from './difference';
import { createPredictor } from '@/core/prediction/predict';
import type { Design } from '@/core/document/schema';
import { thumbnailOf } from '@/core/insight/thumbnail';

const { design, data } = readSession();
const after = (...changes: Change[]): Design => changes.reduce(applyChange, design);

test('nothing differs between a design and itself', () => {
  expect(differences(design, design)).toEqual([]);
  expect(differences(design, structuredClone(design))).toEqual([]);
});

/**
 * Places in a document at which a value can be another: each leaf, and each list without its first
 * or turned round.
 */
function* variations(
  value: unknown,
  path: (string | number)[] = [],
): Generator<{ path: (string | number)[]; next: unknown }> {
  if (Array.isArray(value)) {
    if (value.length > 0) yield { path, next: value.slice(1) };
    if (value.length > 1) yield { path, next: value.toReversed() };
    for (const [i, item] of value.entries()) yield* variations(item, [...path, i]);
  } else if (typeof value === 'object' && value !== null)
    for (const [key, item] of Object.entries(value)) yield* variations(item, [...path, key]);
  else if (typeof value === 'number') yield { path, next: value * 1.0001 + 1e-6 };
  else if (typeof value === 'boolean') yield { path, next: !value };
  else if (typeof value === 'string') yield { path, next: `${value}x` };
  else yield { path, next: 1 };
}

const withValue = (
  document: unknown,
  [key, ...rest]: (string | number)[],
  next: unknown,
): unknown => {
  if (key === undefined) return next;
  const copy = Array.isArray(document) ? [...(document as unknown[])] : { ...(document as object) };
  (copy as Record<string | number, unknown>)[key] = withValue(
    (document as Record<string | number, unknown>)[key],
    rest,
    next,
  );
  return copy;
};

/** A design with something of every kind. */
const rich = [
  { type: 'coupleCoils', partA: 'l1', partB: 'l4', coefficient: 0.1 },
  {
    type: 'setTerminals',
    terminals: [...design.terminals, { ...design.terminals[0], id: 'second', name: 'Second' }],
    isJoined: true,
  },
  {
    type: 'setPromise',
    entry: {
      ...{ id: 'on-axis', kind: 'on-axis', isOff: false, atLeast: null, atMost: 1 },
      ...{ fromHz: 300, toHz: null, angle: null, weight: 5 },
    },
  },
  {
    type: 'editDriver',
    id: 'tweeter',
    set: { offAxisIds: [design.measurements[0].id, design.measurements[2].id] },
  },
  {
    type: 'editMeasurement',
    id: design.measurements[0].id,
    set: {
      recipe: [{ kind: 'gate', isOn: true, lengthMs: 3.8 }],
      angle: { plane: 'horizontal', degrees: 15 },
    },
  },
].reduce<Design>((all, change) => applyChange(all, change as Change), {
  ...design,
  ways: design.ways.map((way, i) =>
    i === 1
      ? {
          ...way,
          groups: [{ id: 'group', join: 'series' as const, parentId: null }],
          parts: way.parts.map((part, k) => (k < 2 ? { ...part, groupId: 'group' } : part)),
        }
      : way,
  ),
});

test('whatever is another in a document is said to differ: every leaf, every list', () => {
  let count = 0;
  const silent = [];
  for (const { path, next } of variations(rich)) {
    if (path[0] === 'format' || path[0] === 'version') continue;
    count++;
    const other = withValue(rich, path, next) as Design;
    try {
      if (differences(rich, other).length === 0) silent.push(path.join('.'));
    } catch {
      // A variation that breaks a reference is no document.
      continue;
    }
  }
  expect(count).toBeGreaterThan(400);
  expect(silent).toEqual([]);
});

test.each<[string, (all: Design) => Design, object]>([
  [
    'a group in parallel instead of in series',
    (all) => ({
      ...all,
      ways: all.ways.map((way) => ({
        ...way,
        groups: way.groups.map((group) => ({ ...group, join: 'parallel' as const })),
      })),
    }),
    { about: 'part', after: expect.stringContaining('in a group in parallel') as unknown },
  ],
  [
    'the band of a promise',
    (all) => ({ ...all, promises: all.promises.map((one) => ({ ...one, fromHz: 2000 })) }),
    { about: 'promise', before: 'at most 1, from 300 Hz to open, weight 5' },
  ],
  [
    'one of two ways of one name, reversed',
    (all) => ({
      ...all,
      ways: all.ways.map((way, i) => ({
        ...way,
        name: 'Same',
        polarity: i === 1 ? ('reversed' as const) : way.polarity,
      })),
    }),
    { about: 'way', what: 'Same (2)', after: expect.stringMatching(/^reversed/) as unknown },
  ],
  [
    'another set of off-axis measurements, of the same size',
    (all) =>
      applyChange(all, {
        type: 'editDriver',
        id: 'tweeter',
        set: { offAxisIds: [design.measurements[0].id, design.measurements[4].id] },
      }),
    { about: 'driver', what: 'Tweeter, responses off axis' },
  ],
  [
    'a part that is free, bounded, tied or locked',
    (all) =>
      applyChange(all, {
        type: 'editPart',
        id: 'l1',
        set: { isLocked: true, fit: { isFree: true, lowest: 1e-3, highest: null, tie: null } },
      }),
    { after: expect.stringMatching(/locked, free for fits, bounds 1 mH to open/) as unknown },
  ],
  [
    'what has no words of its own',
    (all) =>
      applyChange(all, {
        type: 'editDriver',
        id: 'tweeter',
        set: { fitting: { ...all.drivers[2].fitting, leadOhm: 0.2 } },
      }),
    {
      what: 'Tweeter, other statements',
      before: 'parameters: lead, Ω 0',
      after: 'parameters: lead, Ω 0.2',
    },
  ],
])('%s is told', (_, edit, told) => {
  const base = _.startsWith('one of two')
    ? { ...rich, ways: rich.ways.map((way) => ({ ...way, name: 'Same' })) }
    : rich;
  expect(differences(base, edit(base))).toContainEqual(expect.objectContaining(told));
});

test.each<[string, Change, object]>([
  [
    'a value',
    { type: 'setPartValue', id: 'l1', value: 3.9e-3 },
    {
      about: 'part',
      what: 'L1',
      before: '3.3 mH (0.36 Ω), series, Woofer 1',
      after: '3.9 mH (0.398 Ω), series, Woofer 1',
    },
  ],
  [
    'a step on a response',
    {
      type: 'editMeasurement',
      id: design.measurements[0].id,
      set: { recipe: [{ kind: 'gate', isOn: true, lengthMs: 3.8 }] },
    },
    {
      about: 'measurement',
      what: 'woofer response, steps',
      before: 'none',
      after: 'gate lengthMs 3.8',
    },
  ],
  ['a part that is gone', { type: 'removePart', id: 'r3' }, { what: 'R3', after: null }],
  [
    'polarity',
    { type: 'editWay', id: 'way-midrange', set: { polarity: 'reversed' } },
    { about: 'way', what: 'Midrange', before: 'in phase, Midrange', after: 'reversed, Midrange' },
  ],
  [
    'an answer',
    { type: 'answer', set: { farthestSeatMm: 5000 } },
    { about: 'answer', what: 'farthest seat', before: '4.5 m', after: '5 m' },
  ],
  [
    'an answer taken back',
    { type: 'answer', set: { givesWay: [], mustUse: '' } },
    { what: 'must be used', after: 'open' },
  ],
  [
    'a ranking',
    { type: 'answer', set: { givesWay: ['reach', 'size'] } },
    { what: 'what gives way first', after: 'reach, size' },
  ],
  [
    'the target',
    { type: 'setTarget', target: { kind: 'tilt', dbPerOctave: -0.5, fromHz: 200, toHz: 15_000 } },
    { about: 'target', before: 'flat, 200 Hz to 15 kHz', after: 'tilt, 200 Hz to 15 kHz, −0.5' },
  ],
  [
    'a place',
    { type: 'editDriver', id: 'tweeter', set: { position: { xMm: 0, yMm: 70, zMm: -4 } } },
    { about: 'driver', what: 'Tweeter, place', after: '0, 70, −4 mm' },
  ],
  [
    'a data sheet',
    { type: 'setDriverSheet', id: 'woofer', set: { xmaxMm: null } },
    { what: 'Woofer, Xmax, mm', before: '6.5', after: 'not known' },
  ],
  [
    'the amplifier',
    { type: 'setAmplifier', amplifier: { volts: 2.83, outputOhms: 2, cableOhms: 0 } },
    { about: 'setting', what: 'output resistance', before: '0.05 Ω', after: '2 Ω' },
  ],
  [
    'slopes that a way shall have',
    {
      type: 'editWay',
      id: 'way-tweeter',
      set: {
        target: {
          highPass: { alignment: 'linkwitz-riley', order: 4, hz: 2800 },
          lowPass: null,
        },
      },
    },
    { what: 'Tweeter', after: 'in phase, Tweeter, toward linkwitz-riley 4 at 2.8 kHz and nothing' },
  ],
  [
    'two drivers in series, one turned',
    {
      type: 'editWay',
      id: 'way-woofer',
      set: {
        endsJoin: 'series',
        ends: [
          { driverId: 'woofer', polarity: 'normal' },
          { driverId: 'midrange', polarity: 'reversed' },
        ],
      },
    },
    { what: 'Woofer', after: 'in phase, Woofer in series with Midrange (turned)' },
  ],
  [
    'a way without its driver',
    { type: 'editWay', id: 'way-woofer', set: { ends: [] } },
    { what: 'Woofer', after: 'in phase, no driver' },
  ],
  [
    'a way stacked on another',
    {
      type: 'editWay',
      id: 'way-tweeter',
      set: { from: { kind: 'return', wayId: 'way-woofer' } },
    },
    { what: 'Tweeter', after: 'in phase, Tweeter, from the return of Woofer' },
  ],
  [
    'a way that mirrors another',
    { type: 'mirrorWay', id: 'way-tweeter', ofId: 'way-midrange' },
    {
      what: 'C4',
      before: '5.6 µF, series, Tweeter 1',
      after: '47 µF, series, Tweeter 1, linked to C2 × 1',
    },
  ],
  [
    'coupled coils',
    { type: 'coupleCoils', partA: 'l1', partB: 'l2', coefficient: 0.04 },
    { about: 'part', what: 'L1 and L2', before: null, after: 'coupled by 0.04' },
  ],
  [
    'a core',
    { type: 'setCore', id: 'l1', isMagnetic: true },
    { what: 'L1', after: '3.3 mH (0.36 Ω), series, Woofer 1, on a core' },
  ],
  [
    'a second pair of terminals',
    {
      type: 'setTerminals',
      terminals: [
        ...design.terminals,
        { id: 'upper', name: 'Upper', gainDb: -2, polarity: 'reversed' },
      ],
      isJoined: false,
    },
    { about: 'setting', what: 'terminals', before: 'one pair', after: 'separate' },
  ],
  [
    'a switch',
    {
      type: 'setSwitch',
      switch: {
        id: 'treble',
        name: 'Treble',
        chosenId: 'soft',
        positions: [
          { id: 'plain', name: 'PLAIN', settings: [] },
          { id: 'soft', name: 'SOFT', settings: [] },
        ],
      },
    },
    { about: 'setting', what: 'switch Treble', before: null, after: 'at SOFT of PLAIN, SOFT' },
  ],
  [
    'the microphone of a response',
    {
      type: 'editMeasurement',
      id: design.measurements[0].id,
      set: { microphone: { placement: 'own-axis', distanceMm: 500, commonTiming: false } },
    },
    {
      about: 'measurement',
      what: 'woofer response',
      after: 'response, own-axis, 500 mm, own timing, 2.83 V',
    },
  ],
  [
    'an angle',
    {
      type: 'editMeasurement',
      id: design.measurements[0].id,
      set: { angle: { plane: 'horizontal', degrees: 15 } },
    },
    { what: 'woofer response, angle', before: 'not said', after: 'horizontal 15°' },
  ],
  [
    'a response that is gone',
    { type: 'editDriver', id: 'tweeter', set: { responseId: null } },
    { what: 'Tweeter, response', after: 'none' },
  ],
  [
    'a target of points',
    {
      type: 'setTarget',
      target: {
        kind: 'points',
        fromHz: 200,
        toHz: 15_000,
        points: [
          { hz: 200, db: 0 },
          { hz: 15_000, db: -3 },
        ],
      },
    },
    { about: 'target', after: expect.stringMatching(/^points, .*"db":-3/) as unknown },
  ],
  [
    'a promise',
    {
      type: 'setPromise',
      entry: {
        id: 'on-axis',
        kind: 'on-axis',
        isOff: false,
        atLeast: null,
        atMost: 1,
        fromHz: null,
        toHz: null,
        angle: null,
        weight: 5,
      },
    },
    { about: 'promise', what: 'on-axis', before: null, after: 'at most 1, weight 5' },
  ],
])('%s is told', (_, change, told) => {
  expect(differences(design, after(change))[0]).toMatchObject(told);
});

test('promises that rose and fell, judged by the later limits', () => {
  const predict = createPredictor();
  // Without a baffle nothing is known off the axis.
  const judged = (of: Design) =>
    judgedPromisesOf(withoutBaffle(of), predict(withoutBaffle(of), data));
  const later = after({ type: 'setPartValue', id: 'l3', value: 0.68e-3 });
  const moved = new Map(
    movements(judged(design), judged(later)).map((one) => [one.promiseId, one]),
  );
  expect(moved.get('lowest-impedance')).toMatchObject({ direction: 'better', isKept: false });
  expect(moved.get('travel')).toMatchObject({ isKept: true });
  expect(moved.get('window')).toMatchObject({ before: null, after: null, direction: null });
  const back = movements(judged(later), judged(design));
  expect(back.find(({ promiseId }) => promiseId === 'lowest-impedance')!.direction).toBe('worse');
});

test('a thumbnail runs from end to end and leaves gaps', () => {
  const predict = createPredictor();
  const prediction = predict(design, data);
  const levels = thumbnailOf(prediction);
  expect(levels).toHaveLength(64);
  expect(levels[0]).toBeCloseTo(prediction.sum!.levelDb[0], 1);
  expect(levels[63]).toBeCloseTo(prediction.sum!.levelDb.at(-1)!, 1);
  expect(thumbnailOf(predict({ ...design, ways: [] }, data))).toEqual([]);
  const gap = { ...prediction.sum!, levelDb: prediction.sum!.levelDb.map(() => -Infinity) };
  expect(thumbnailOf({ ...prediction, sum: gap })[5]).toBeNull();
});
