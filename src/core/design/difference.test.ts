import { readDemo } from '../../../tests/fixtures';
import { movements } from '../promises/movement';
import { standingsOf } from '../promises/standing';
import { applyChange } from './applyChange';
import type { Change } from './change';
import { differences } from './difference';
import { createPredictor } from './predict';
import type { Design } from './schema';
import { thumbnailOf } from './thumbnail';

const { design, data } = readDemo();
const after = (...changes: Change[]): Design => changes.reduce(applyChange, design);

test('nothing differs between a design and itself, whatever it is called', () => {
  expect(differences(design, design)).toEqual([]);
  expect(differences(design, after({ type: 'renameDesign', name: 'other' }))).toEqual([]);
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
    { what: 'Woofer, xmaxMm', before: '6.5', after: 'not known' },
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
    { what: 'C4', before: '5.6 µF, series, Tweeter 1', after: '47 µF, series, Tweeter 1' },
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
    { about: 'way', what: 'Woofer', after: 'in phase, Woofer, from the pair Terminals' },
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
      after: `response ${design.measurements[0].id.slice(0, 6)}, own-axis, 500 mm, own timing, 2.83 V`,
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
  const standings = (of: Design) => standingsOf(of, predict(of, data));
  const later = after({ type: 'setPartValue', id: 'l3', value: 0.68e-3 });
  const moved = new Map(
    movements(standings(design), standings(later)).map((one) => [one.promiseId, one]),
  );
  expect(moved.get('lowest-impedance')).toMatchObject({ direction: 'better', isKept: false });
  expect(moved.get('travel')).toMatchObject({ direction: 'same' });
  expect(moved.get('window')).toMatchObject({ before: null, after: null, direction: null });
  const back = movements(standings(later), standings(design));
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
