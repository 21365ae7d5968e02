import { partValue } from '@/core/document/partKinds';
import { phaseDegOf } from '@/core/prediction/derived';
import { readSession, seededRandom, withoutBaffle } from '../../../tests/fixtures';
import { movedAlong } from './arrange';
import { applyChange } from './applyChange';
import { arrangeWay, type Change } from './change';
import { moveSinceMeasured } from '@/core/document/moved';
import { newPart } from './newPart';
import { predict } from '@/core/prediction/predict';
import { designSchema, plainWay, type Design, type Part } from '@/core/document/schema';

const { design: demo } = readSession();
const partOf = (design: Design, id: string): Part | undefined =>
  design.ways.flatMap((way) => way.parts).find((part) => part.id === id);
const driver = demo.drivers[0];
const [measurement] = demo.measurements;

/** Every kind of change, with what must be true of the result. */
const cases: [Change, (after: Design) => unknown, unknown][] = [
  [{ type: 'renameDesign', name: 'Other' }, (d) => d.name, 'Other'],
  [
    {
      type: 'addMeasurements',
      measurements: [measurement, { ...measurement, id: 'f'.repeat(32) }],
    },
    (d) => d.measurements.length,
    7,
  ],
  [
    { type: 'removeMeasurement', id: driver.responseId! },
    (d) => [d.measurements.length, d.drivers[0].responseId],
    [5, null],
  ],
  [
    { type: 'editMeasurement', id: measurement.id, set: { name: 'renamed' } },
    (d) => [d.measurements[0].name, d.drivers[0].responseId],
    ['renamed', measurement.id],
  ],
  [
    { type: 'editMeasurement', id: measurement.id, set: { kind: 'impedance' } },
    (d) => [d.measurements[0].kind, d.drivers[0].responseId],
    ['impedance', null],
  ],
  [
    { type: 'addDriver', driver: { ...driver, id: 'new' } },
    (d) => d.drivers.map((x) => x.id),
    ['woofer', 'midrange', 'tweeter', 'new'],
  ],
  [{ type: 'removeDriver', id: 'woofer' }, (d) => [d.drivers.length, d.ways[0].ends], [2, []]],
  [
    { type: 'editDriver', id: 'woofer', set: { position: { xMm: 1, yMm: 2, zMm: 3 } } },
    (d) => d.drivers[0].position.zMm,
    3,
  ],
  [
    {
      type: 'addWay',
      way: { ...plainWay, id: 'w4', name: 'Fourth' },
    },
    (d) => d.ways.length,
    4,
  ],
  [
    { type: 'removeWay', id: 'way-midrange' },
    (d) => d.ways.map((w) => w.name),
    ['Woofer', 'Tweeter'],
  ],
  [
    { type: 'editWay', id: 'way-tweeter', set: { polarity: 'reversed' } },
    (d) => d.ways[2].polarity,
    'reversed',
  ],
  [
    {
      type: 'addPart',
      wayId: 'way-woofer',
      index: 1,
      part: newPart(demo, 'resistor', 'series', 'new'),
    },
    (d) => d.ways[0].parts.map((p) => p.name),
    ['L1', 'R4', 'C1'],
  ],
  [{ type: 'removePart', id: 'l1' }, (d) => d.ways[0].parts.map((p) => p.name), ['C1']],
  [
    { type: 'replacePart', part: { ...newPart(demo, 'capacitor', 'series', 'l1') } },
    (d) => d.ways[0].parts.map((p) => p.name),
    ['C5', 'C1'],
  ],
  [
    arrangeWay('way-midrange', movedAlong(demo.ways[1], 'l3', -1)!),
    (d) => d.ways[1].parts.map((p) => p.name),
    ['C2', 'L3', 'L2', 'C3', 'R1'],
  ],
  [{ type: 'setPartValue', id: 'c2', value: 33e-6 }, (d) => partValue(partOf(d, 'c2')!), 33e-6],
  [{ type: 'setPartValue', id: 'r1', value: 3.3 }, (d) => partValue(partOf(d, 'r1')!), 3.3],
  [{ type: 'setPartValue', id: 'l1', value: 1e-3 }, (d) => partValue(partOf(d, 'l1')!), 1e-3],
  [
    { type: 'setPartLoss', id: 'l1', seriesOhms: 0.1 },
    (d) => partOf(d, 'l1'),
    { ...partOf(demo, 'l1'), seriesOhms: 0.1, isLossFixed: true },
  ],
  [{ type: 'setPartLoss', id: 'r1', seriesOhms: 0.1 }, (d) => partOf(d, 'r1'), partOf(demo, 'r1')],
  [
    {
      type: 'setPartValues',
      values: new Map([
        ['l1', { value: 1e-3, seriesOhms: 0.2 }],
        ['c2', { value: 1e-6, seriesOhms: null }],
      ]),
    },
    (d) => [partOf(d, 'l1'), partOf(d, 'c2')],
    [
      { ...partOf(demo, 'l1'), henries: 1e-3, seriesOhms: 0.2 },
      { ...partOf(demo, 'c2'), farads: 1e-6 },
    ],
  ],
  [
    { type: 'setCore', id: 'l1', isMagnetic: true },
    (d) => (partOf(d, 'l1') as { core?: string }).core,
    'magnetic',
  ],
  [
    { type: 'swapParts', partA: 'l1', partB: 'c1' },
    (d) => d.ways[0].parts.map((p) => `${p.name} ${p.place}`),
    ['C1 series', 'L1 shunt'],
  ],
  [
    { type: 'coupleCoils', partA: 'l1', partB: 'l2', coefficient: 0.1 },
    (d) => d.couplings,
    [{ partA: 'l1', partB: 'l2', coefficient: 0.1 }],
  ],
  [{ type: 'editPart', id: 'c1', set: { isOff: true } }, (d) => partOf(d, 'c1')!.isOff, true],
  [
    { type: 'setAmplifier', amplifier: { volts: 1, outputOhms: 2, cableOhms: 0 } },
    (d) => d.amplifier.outputOhms,
    2,
  ],
  [{ type: 'setListeningDistance', distanceMm: 2500 }, (d) => d.listeningDistanceMm, 2500],
];

test.each(cases)('$type', (change, look, wanted) => {
  const before = JSON.stringify(demo);
  const after = applyChange(demo, change);
  expect(look(after)).toEqual(wanted);
  expect(designSchema.safeParse(after).error).toBeUndefined();
  expect(JSON.stringify(demo)).toBe(before);
});

test('a change that names nothing changes nothing that is seen', () => {
  for (const change of [
    { type: 'removePart', id: 'gone' },
    arrangeWay('gone', { parts: [], groups: [] }),
    { type: 'setPartValue', id: 'gone', value: 1 },
    { type: 'editWay', id: 'gone', set: {} },
  ] as Change[])
    expect(applyChange(demo, change)).toEqual(demo);
});

test('new parts take the lowest free number of their letter', () => {
  const without = applyChange(demo, { type: 'removePart', id: 'l2' });
  expect(newPart(without, 'coil', 'shunt', 'x').name).toBe('L2');
  expect(newPart(demo, 'capacitor', 'series', 'x')).toMatchObject({
    name: 'C5',
    farads: 10e-6,
    seriesOhms: 0,
  });
});

test.each([1, 2, 3])('any sequence of changes leaves a sound document, seed %i', (seed) => {
  const random = seededRandom(seed);
  let design = demo;
  for (let i = 0; i < 200; i++) {
    const [change] = cases[Math.floor(random() * cases.length)];
    const isAddition = change.type.startsWith('add') || change.type === 'replacePart';
    if (isAddition) continue;
    design = applyChange(design, change);
    expect(designSchema.safeParse(design).success).toBe(true);
  }
});

test('a coupling is changed from either side, parted by 0, and goes with its coil', () => {
  const couple = (design: Design, partA: string, partB: string, coefficient: number) =>
    applyChange(design, { type: 'coupleCoils', partA, partB, coefficient });
  const once = couple(demo, 'l1', 'l2', 0.1);
  const again = couple(once, 'l2', 'l1', -0.05);
  expect(again.couplings).toEqual([{ partA: 'l2', partB: 'l1', coefficient: -0.05 }]);
  expect(couple(again, 'l1', 'l2', 0).couplings).toEqual([]);
  const both = couple(again, 'l1', 'l3', 0.02);
  expect(applyChange(both, { type: 'removePart', id: 'l2' }).couplings).toHaveLength(1);
  const replaced = applyChange(both, {
    type: 'replacePart',
    part: newPart(demo, 'capacitor', 'series', 'l3'),
  });
  expect(designSchema.safeParse(replaced).success).toBe(true);
  expect(replaced.couplings).toHaveLength(1);
});

test.each([
  ['no coil', { partA: 'l1', partB: 'c1', coefficient: 0.1 }],
  ['itself', { partA: 'l1', partB: 'l1', coefficient: 0.1 }],
])('a coupling with %s is refused', (_, coupling) => {
  expect(designSchema.safeParse({ ...demo, couplings: [coupling] }).success).toBe(false);
});

test('a tie goes with the part that it follows, and when that becomes another kind', () => {
  const tied = applyChange(demo, {
    type: 'editPart',
    id: 'c3',
    set: { fit: { ...partOf(demo, 'c3')!.fit, tie: { partId: 'c2', ratio: 0.2 } } },
  });
  expect(partOf(tied, 'c3')!.fit.tie).not.toBeNull();
  const ways: Change[] = [
    { type: 'removePart', id: 'c2' },
    { type: 'replacePart', part: newPart(demo, 'resistor', 'series', 'c2') },
    arrangeWay('way-midrange', { parts: [partOf(tied, 'c3')!], groups: [] }),
  ];
  for (const change of ways) {
    const after = applyChange(tied, change);
    expect(partOf(after, 'c3')!.fit.tie).toBeNull();
    expect(designSchema.safeParse(after).success).toBe(true);
  }
  expect(applyChange(tied, { type: 'renameDesign', name: 'x' }).ways).toBe(tied.ways);
});

test('the resistance of a coil follows its value, unless it was stated by hand', () => {
  const set = (design: Design, change: Change) => partOf(applyChange(design, change), 'l1')!;
  const ten = { type: 'setPartValue', id: 'l1', value: 33e-3 } as const;
  const ohms = (part: Part) => (part.kind === 'coil' ? part.seriesOhms : NaN);
  // The same wire in air: R ∝ L^0.6; on a core R ∝ √L.
  expect(ohms(set(demo, ten))).toBeCloseTo(0.36 * 10 ** 0.6, 12);
  const cored = applyChange(demo, { type: 'setCore', id: 'l1', isMagnetic: true });
  expect(ohms(set(cored, ten))).toBeCloseTo(0.36 * Math.sqrt(10), 12);
  const stated = applyChange(demo, { type: 'setPartLoss', id: 'l1', seriesOhms: 0.5 });
  expect(ohms(set(stated, ten))).toBe(0.5);
  const again = applyChange(stated, { type: 'setPartLoss', id: 'l1', seriesOhms: null });
  expect(ohms(set(again, ten))).toBeCloseTo(0.5 * 10 ** 0.6, 12);
});

test('a driver that is moved back is remembered where it was measured, and sounds later', () => {
  const [woofer] = demo.drivers;
  const { data } = readSession();
  const depth = (design: Design, zMm: number) => {
    const driver = design.drivers[0];
    const set = { position: { ...driver.position, zMm } };
    return applyChange(design, { type: 'editDriver', id: driver.id, set });
  };
  const fresh = applyChange(demo, {
    type: 'editDriver',
    id: woofer.id,
    set: { measuredAt: null },
  });
  const moved = depth(fresh, woofer.position.zMm - 40);
  expect(moved.drivers[0].measuredAt).toEqual(woofer.position);
  const move = moveSinceMeasured(moved, moved.drivers[0])!;
  expect(move.zMm).toBe(-40);
  expect(move.addedPathMm).toBeGreaterThan(35);
  expect(move.delayMs).toBeCloseTo(move.addedPathMm / 343.2, 3);
  const phases = [fresh, moved].map((design) => phaseDegOf(predict(design, data).ways[0].pressure));
  const k = predict(fresh, data).frequencyHz.findIndex((hz) => hz >= 500);
  const hz = predict(fresh, data).frequencyHz[k];
  const turned = (phases[0][k] - phases[1][k]) / 360 - (hz * move.delayMs) / 1000;
  expect(turned - Math.round(turned)).toBeCloseTo(0, 6);
  // Its place across the baffle is a statement of where it was measured, until it was moved once or
  // the baffle that it was measured on is known.
  const asideIn = (design: Design) =>
    applyChange(design, {
      type: 'editDriver',
      id: woofer.id,
      set: { position: { ...woofer.position, xMm: 25 } },
    });
  const aside = asideIn(withoutBaffle(fresh));
  expect(moveSinceMeasured(aside, aside.drivers[0])).toBeNull();
  const known = asideIn(fresh);
  expect(moveSinceMeasured(known, known.drivers[0])!.xMm).toBe(25);
});
