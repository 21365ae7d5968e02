import { partValue } from '@/core/document/partKinds';
import { readDemo } from '../../../tests/fixtures';
import { applyChange } from './applyChange';
import { joinedWithNext } from './arrange';
import { arrangeWay, type Change } from './change';
import { originalOf } from './mirror';
import { newPart } from './newPart';
import { createPredictor } from '@/core/prediction/predict';
import { designSchema, endAt, plainWay, type Design } from '@/core/document/schema';

const { design: demo, data } = readDemo();
const done = (design: Design, ...changes: Change[]) => {
  const next = changes.reduce(applyChange, design);
  expect(designSchema.parse(next)).toEqual(next);
  return next;
};
/** The demo with a second midrange at the end of a way that mirrors the first's. */
const second = { ...demo.drivers[1], id: 'midrange-2', name: 'Midrange 2' };
const twin = { ...plainWay, id: 'way-twin', name: 'Twin', ends: [endAt(second.id)] };
const mirrored = done(
  demo,
  { type: 'addDriver', driver: second },
  { type: 'addWay', way: twin },
  { type: 'mirrorWay', id: twin.id, ofId: demo.ways[1].id },
);
const wayOf = (design: Design, id: string) => design.ways.find((way) => way.id === id)!;
const pair = (design: Design) => ({
  own: wayOf(design, twin.id),
  source: wayOf(design, demo.ways[1].id),
});
const values = (way: Design['ways'][number]) =>
  way.parts.map((part) => [
    ...[part.kind, part.place, partValue(part), part.isOff],
    part.kind === 'resistor' ? 0 : part.seriesOhms,
    part.kind === 'coil' && part.core,
  ]);
/** Both stand alike, under names and ids of their own. */
const expectAlike = (design: Design) => {
  const { own, source } = pair(design);
  expect(values(own)).toEqual(values(source));
  expect(own.groups.map(({ join }) => join)).toEqual(source.groups.map(({ join }) => join));
  const names = design.ways.flatMap(({ parts }) => parts.map(({ name }) => name));
  expect(new Set(names).size).toBe(names.length);
};

test('a way that mirrors another has its parts, tied, under other names, and sounds the same', () => {
  expectAlike(mirrored);
  const { own, source } = pair(mirrored);
  expect(own.parts).toHaveLength(5);
  own.parts.forEach(({ fit }, k) =>
    expect(fit).toMatchObject({ isFree: false, tie: { partId: source.parts[k].id, ratio: 1 } }),
  );
  const { ways } = createPredictor()(mirrored, data);
  const [one, other] = [demo.ways[1].id, twin.id].map((id) =>
    ways.find(({ wayId }) => wayId === id)!,
  );
  one.levelDb.forEach((db, i) => expect(other.levelDb[i]).toBeCloseTo(db, 9));
});

describe('a change to either is a change to both', () => {
  const { own, source } = pair(mirrored);
  const added = newPart(mirrored, 'resistor', 'shunt', 'added');
  test.each<readonly [string, (way: Design['ways'][number]) => Change]>([
    ['a value', (way) => ({ type: 'setPartValue', id: way.parts[0].id, value: 22e-6 })],
    ['a loss', (way) => ({ type: 'setPartLoss', id: way.parts[1].id, seriesOhms: 0.77 })],
    ['a core', (way) => ({ type: 'setCore', id: way.parts[1].id, isMagnetic: true })],
    ['a part left out', (way) => ({ type: 'editPart', id: way.parts[3].id, set: { isOff: true } })],
    ['a part removed', (way) => ({ type: 'removePart', id: way.parts[2].id })],
    ['a part added', (way) => ({ type: 'addPart', wayId: way.id, index: 1, part: added })],
    [
      'two swapped',
      (way) => ({ type: 'swapParts', partA: way.parts[0].id, partB: way.parts[3].id }),
    ],
    [
      'another kind',
      ({ parts: [first] }) => ({
        type: 'replacePart',
        part: { ...newPart(mirrored, 'resistor', first.place, first.id), name: first.name },
      }),
    ],
    [
      'two joined',
      (way) => arrangeWay(way.id, joinedWithNext(way, way.parts[0].id, 'series', 'joined')!),
    ],
  ])('%s', (_, changeOf) => {
    const onSource = done(mirrored, changeOf(source));
    const onMirror = done(mirrored, changeOf(own));
    expectAlike(onSource);
    expectAlike(onMirror);
    expect(values(pair(onMirror).source)).toEqual(values(pair(onSource).source));
    const shape = ({ source: one }: ReturnType<typeof pair>) => [values(one), one.groups.length];
    expect(shape(pair(onSource))).not.toEqual(shape(pair(mirrored)));
  });

  test('what a fit may do with it stays the original’s', () => {
    const fit = { isFree: false, lowest: 10e-6, highest: 90e-6, tie: null };
    const bounded = done(mirrored, { type: 'editPart', id: source.parts[0].id, set: { fit } });
    const [first] = pair(bounded).own.parts;
    const edited = done(bounded, {
      type: 'editPart',
      id: first.id,
      set: { isLocked: true, fit: { ...first.fit, isFree: true } },
    });
    expect(pair(edited).source.parts[0]).toMatchObject({ isLocked: true, fit });
    expect(originalOf(edited, first.id)).toBe(source.parts[0].id);
    expect(originalOf(edited, source.parts[0].id)).toBe(source.parts[0].id);
  });

  test('nothing goes from one to the other: it starts from both', () => {
    const moved = done(mirrored, {
      type: 'arrangeWays',
      contents: new Map([
        [own.id, { parts: own.parts.slice(1), groups: [] }],
        [source.id, { parts: [...source.parts, own.parts[0]], groups: [] }],
      ]),
    });
    expect(moved.ways).toEqual(mirrored.ways);
  });

  test('a switch that sets the original sets both', () => {
    const { id } = source.parts[0];
    const setting = (value: number) => ({
      ...{ kind: 'part' as const, id, value, seriesOhms: 0, isOff: false },
    });
    const switched = done(
      mirrored,
      {
        type: 'setSwitch',
        switch: {
          id: 'tone',
          name: 'Tone',
          chosenId: 'plain',
          positions: [
            { id: 'plain', name: 'PLAIN', settings: [setting(47e-6)] },
            { id: 'thin', name: 'THIN', settings: [setting(22e-6)] },
          ],
        },
      },
      { type: 'turnSwitch', id: 'tone', positionId: 'thin' },
    );
    expectAlike(switched);
    expect(partValue(pair(switched).own.parts[0])).toBe(22e-6);
  });

  test('what stays keeps its name and id', () => {
    const after = pair(done(mirrored, { type: 'removePart', id: source.parts[0].id }));
    expect(after.own.parts.map(({ id, name }) => [id, name])).toEqual(
      own.parts.slice(1).map(({ id, name }) => [id, name]),
    );
  });
});

test('a way that is alone again keeps what it has, free of the other', () => {
  const parted = done(mirrored, { type: 'mirrorWay', id: twin.id, ofId: null });
  const { own, source } = pair(parted);
  expect(values(own)).toEqual(values(source));
  expect(own.mirrorOf).toBeUndefined();
  expect(own.parts.every(({ fit }) => fit.tie === null)).toBe(true);
  const moved = done(parted, { type: 'setPartValue', id: own.parts[0].id, value: 1e-6 });
  expect(partValue(pair(moved).source.parts[0])).toBe(partValue(source.parts[0]));
});

test('a way whose original has gone is alone', () => {
  const left = done(mirrored, { type: 'removeWay', id: demo.ways[1].id });
  const own = wayOf(left, twin.id);
  expect(own.mirrorOf).toBeUndefined();
  expect(own.parts).toHaveLength(5);
  expect(own.parts.every(({ fit }) => fit.tie === null)).toBe(true);
});

test('a document in which a way mirrors a mirror, or nothing, is refused', () => {
  const chained = {
    ...mirrored,
    ways: mirrored.ways.map((way, w) => (w === 0 ? { ...way, mirrorOf: twin.id } : way)),
  };
  expect(() => designSchema.parse(chained)).toThrow(/mirrors a way that mirrors another/);
  const lost = {
    ...mirrored,
    ways: mirrored.ways.map((way, w) => (w === 0 ? { ...way, mirrorOf: 'gone' } : way)),
  };
  expect(() => designSchema.parse(lost)).toThrow(/mirrors a way that is not there/);
});
