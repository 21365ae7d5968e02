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
      after: '3.9 mH (0.36 Ω), series, Woofer 1',
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
