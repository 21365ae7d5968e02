import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readSession, withoutBaffle, withoutBoxes } from '../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { ProblemError } from '../problem';
import { readDesign } from './readDesign';
import { emptyDesign, firstPair, type Design, type Part } from './schema';

const { design: present } = readSession();
const mounted = withoutBoxes(present);
const demo = withoutBaffle(mounted);
const altered = (edit: (design: Design) => unknown): unknown => {
  const copy = structuredClone(demo);
  edit(copy);
  return copy;
};

interface OldWay {
  driverId: string | null;
}

/** The demo as version 4 had it. */
const asVersion4 = () => {
  const { terminals, isJoined, bridges, switches, ...rest } = structuredClone(demo);
  expect([terminals.length, isJoined, bridges, switches]).toEqual([1, false, [], []]);
  const { cableOhms, ...amplifier } = rest.amplifier;
  expect(cableOhms).toBe(0);
  return {
    ...rest,
    version: 4,
    amplifier,
    ways: rest.ways.map(({ from, ends, endsJoin, target, ...way }): OldWay => {
      expect([from.kind, ends.length, endsJoin, target]).toEqual([
        'terminals',
        1,
        'parallel',
        null,
      ]);
      return { ...way, driverId: ends[0].driverId };
    }),
  };
};

test('a document of version 4 gets its driver at the end of each way, and one pair of terminals', () => {
  expect(readDesign(asVersion4(), 'old.json')).toEqual(demo);
  const open = asVersion4();
  open.ways[0].driverId = null;
  expect(readDesign(open, 'old.json').ways[0].ends).toEqual([]);
});

test('a document of version 8 has no baffle, and nobody said what its responses were measured on', () => {
  const { panels, axisHeightMm, earHeightMm, ...old } = structuredClone(mounted);
  expect(panels).toHaveLength(1);
  expect([axisHeightMm, earHeightMm]).toEqual([950, 1050]);
  const bare = {
    ...old,
    version: 8,
    drivers: old.drivers.map(({ mounting, ...driver }) => {
      expect(mounting.panelId).toBe('front');
      return driver;
    }),
    measurements: old.measurements.map(({ measuredOn, ...rest }) => {
      expect(measuredOn.kind).toMatch(/baffle|unknown/);
      return rest;
    }),
  };
  expect(readDesign(bare, 'old.json')).toEqual(demo);
  expect(() => readDesign({ ...bare, drivers: 3 }, 'old.json')).toThrow(/drivers/);
});

test('in a document of version 9 drivers look ahead, in a free field', () => {
  const { surroundings, ...rest } = structuredClone(mounted);
  expect(surroundings).toEqual({ boundaries: [], pair: null });
  const entry = { id: 'window', kind: 'window', isOff: false, atLeast: null, atMost: 2 };
  const old = {
    ...rest,
    version: 9,
    promises: [{ ...entry, fromHz: null, toHz: null, weight: 4 }],
    drivers: rest.drivers.map(({ aim, ...driver }) => {
      expect(aim).toEqual({ yawDeg: 0, pitchDeg: 0 });
      return driver;
    }),
  };
  const read = readDesign(old, 'old.json');
  expect({ ...read, promises: [] }).toEqual(mounted);
  expect(read.promises[0].angle).toBeNull();
});

test('a document of version 10 has no boxes, and nobody said in which its curves were measured', () => {
  const { boxes, ...rest } = structuredClone(present);
  expect(boxes).toHaveLength(1);
  const measurements = rest.measurements.map(({ inBox, ...one }) => {
    expect(inBox.kind).toMatch(/free|sealed|unknown/);
    return one;
  });
  expect(readDesign({ ...rest, version: 10, measurements }, 'old.json')).toEqual(mounted);
});

test('a document of version 11 did not say what fibre was in the boxes of its measurements', () => {
  const old = structuredClone(present) as unknown as {
    version: number;
    measurements: { inBox: { fill?: string } }[];
  };
  old.version = 11;
  for (const { inBox } of old.measurements) delete inBox.fill;
  const { measurements } = readDesign(old, 'old.json');
  const held = measurements.flatMap(({ inBox }) => ('litres' in inBox ? [inBox.fill] : []));
  expect(held.length).toBeGreaterThan(0);
  expect(new Set(held)).toEqual(new Set(['none']));
});

test('a real document of version 12 opens, is edited and comes back; its amplifiers are of one kind', () => {
  const path = join(import.meta.dirname, '../../../tests/fixtures/documents/version-12.json');
  const old = JSON.parse(readFileSync(path, 'utf8')) as Design;
  expect(old.version).toBe(12);
  const opened = readDesign(old, 'version-12.json');
  expect(opened).toEqual({ ...old, version: 13 });
  expect(opened.terminals.every(({ outputOhms }) => outputOhms === undefined)).toBe(true);
  const edited = applyChange(opened, {
    type: 'setTerminals',
    terminals: [
      ...opened.terminals,
      { ...firstPair, id: 'second', name: 'Second', outputOhms: 2.5 },
    ],
    isJoined: false,
  });
  expect(readDesign(JSON.parse(JSON.stringify(edited)), 'edited')).toEqual(edited);
});

test('boxes go together: drivers of the design, one box in use for each, chambers in boxes that are there', () => {
  const [box] = present.boxes;
  const read = (boxes: unknown) => () => readDesign({ ...present, boxes }, 'here');
  const used = { ...box, isUsed: true };
  expect(read([used])().boxes).toEqual([used]);
  expect(read([used, { ...used, id: 'other' }])).toThrow(/in two boxes that are in use/);
  expect(read([{ ...box, driverIds: ['nobody'] }])).toThrow(/not of the design/);
  expect(read([{ ...box, driverIds: ['woofer', 'woofer'] }])).toThrow(/twice/);
  expect(read([{ ...box, insideId: 'nowhere' }])).toThrow(/one that is not there/);
  const inner = { ...box, id: 'inner', driverIds: [], insideId: box.id };
  expect(read([box, inner])().boxes).toHaveLength(2);
  expect(read([box, inner, { ...inner, id: 'third', insideId: 'inner' }])).toThrow(/holds a third/);
  expect(read([{ ...box, fill: 'feathers' }])).toThrow();
});

test('a driver is on a panel of the design or on none', () => {
  expect(() => readDesign({ ...mounted, panels: [] }, 'here')).toThrow(/not a panel of the design/);
});

test('a sound document comes back as it is', () => {
  expect(readDesign(demo, 'here')).toEqual(demo);
  expect(readDesign(emptyDesign('Empty'), 'here').ways).toEqual([]);
});

test('a document of version 1 gets an empty brief and open data sheets', () => {
  const { brief, target, promises, variant, ...rest } = asVersion4();
  const drivers = rest.drivers.map(({ sheet, ...driver }) => {
    expect(sheet.fsHz).not.toBeNull();
    return driver;
  });
  expect([brief.purpose, target.kind, promises, variant]).toEqual([
    'music',
    'flat',
    [],
    'main line',
  ]);
  const old = readDesign({ ...rest, drivers, version: 1 }, 'old.json');
  expect(old).toMatchObject({ version: 13, variant: 'main line', promises: [], ways: demo.ways });
  expect(old.brief).toEqual(emptyDesign('x').brief);
  expect(old.drivers[0].sheet.fsHz).toBeNull();
  expect(() => readDesign({ ...rest, drivers: 7, version: 1 }, 'old.json')).toThrow(/drivers/);
});

test('a document of version 2 uses its responses as they were measured', () => {
  const strip = <T extends object>(items: readonly T[], ...keys: (keyof T)[]) =>
    items.map((item) =>
      Object.fromEntries(Object.entries(item).filter(([key]) => !keys.includes(key as keyof T))),
    );
  const old = {
    ...asVersion4(),
    version: 2,
    measurements: strip(demo.measurements, 'angle', 'recipe', 'harmonics'),
    drivers: strip(demo.drivers, 'offAxisIds', 'fitting'),
  };
  expect(readDesign(old, 'old.json')).toEqual(demo);
  expect(old.measurements[0]).not.toHaveProperty('recipe');
});

test.each<[string, unknown, string, RegExp]>([
  ['nothing', null, 'not_a_design', /not a Fair Voicing design/],
  ['other JSON', { a: 1 }, 'not_a_design', /not a Fair Voicing design/],
  ['a newer schema', { format: 'fair-voicing', version: 14 }, 'design_too_new', /version 14/],
  [
    'a missing field',
    altered((d) => delete (d as Partial<Design>).amplifier),
    'design_invalid',
    /amplifier/,
  ],
  ['a field too many', altered((d) => Object.assign(d, { extra: 1 })), 'design_invalid', /extra/],
  [
    'a negative value',
    altered((d) => Object.assign(d.ways[0].parts[0], { henries: -1 })),
    'design_invalid',
    /ways\.0\.parts\.0\.henries/,
  ],
  [
    'an unknown driver',
    altered((d) => Object.assign(d.ways[0].ends[0], { driverId: 'nobody' })),
    'design_invalid',
    /ways\.0\.ends\.0\.driverId: This is not a driver/,
  ],
  [
    'a response that is an impedance',
    altered((d) => Object.assign(d.drivers[0], { responseId: d.drivers[0].impedanceId })),
    'design_invalid',
    /not a response measurement/,
  ],
  [
    'two parts of one name',
    altered((d) => Object.assign(d.ways[1].parts[0], { name: 'C1' })),
    'design_invalid',
    /Two parts are called C1/,
  ],
  [
    'two parts of one id',
    altered((d) => Object.assign(d.ways[1].parts[0], { id: 'c1' })),
    'design_invalid',
    /id c1 is used twice/,
  ],
  [
    'script as an id',
    altered((d) => Object.assign(d.ways[1].parts[0], { id: '<script>' })),
    'design_invalid',
    /parts\.0\.id/,
  ],
])('%s is refused and the place is named', (_name, value, code, message) => {
  expect(() => readDesign(value, 'file.json')).toThrow(message);
  try {
    readDesign(value, 'file.json');
  } catch (error) {
    expect((error as { problem: { code: string } }).problem.code).toBe(code);
  }
});

test('a document of version 3 gets parts that are by themselves and are held', () => {
  const old = asVersion4() as unknown as {
    couplings?: unknown;
    ways: { groups?: unknown; parts: object[] }[];
  };
  delete old.couplings;
  for (const way of old.ways) {
    delete way.groups;
    way.parts = (way.parts as Part[]).map(({ groupId, isOff, isLocked, fit, ...part }) => {
      expect([groupId, isOff, isLocked, fit.isFree]).toEqual([null, false, false, false]);
      return part;
    });
  }
  expect(readDesign({ ...old, version: 3 }, 'old.json')).toEqual(demo);
});

test('a document of version 5 has its drivers where they were measured', () => {
  const drivers = demo.drivers.map(({ measuredAt, ...driver }) => {
    expect(measuredAt).toEqual(driver.position);
    return driver;
  });
  const old = readDesign({ ...demo, version: 5, drivers }, 'old.json');
  expect(old.drivers.map(({ measuredAt }) => measuredAt)).toEqual(
    demo.drivers.map(({ position }) => position),
  );
});

test('a document of version 6 gets open questions about room, programme and power', () => {
  const { roomSquareMetres, programme, ...brief } = demo.brief;
  expect([roomSquareMetres, programme]).toEqual([40, 'overdriven']);
  const drivers = demo.drivers.map((driver) => {
    const { mmsG, blTm, mechanicalMm, nominalOhms, ratedAs, filterHz, filterOrder, ...sheet } =
      driver.sheet;
    expect(mmsG ?? blTm ?? mechanicalMm ?? nominalOhms ?? ratedAs).not.toBeUndefined();
    expect([filterHz, filterOrder]).toHaveLength(2);
    return { ...driver, sheet };
  });
  const old = readDesign({ ...demo, version: 6, brief, drivers }, 'old.json');
  expect(old.brief).toEqual({ ...demo.brief, roomSquareMetres: null, programme: null });
  expect(old.drivers[0].sheet).toMatchObject({ ...drivers[0].sheet, ratedAs: null, mmsG: null });
});

test('degrees of phase that version 7 promised are told as what they lose', () => {
  const entry = {
    ...{ id: 'phase-tracking', kind: 'phase-tracking', isOff: false, atLeast: null },
    ...{ fromHz: null, toHz: null, angle: null, weight: 4 },
  };
  const read = (atMost: number | null) =>
    readDesign({ ...demo, version: 7, promises: [{ ...entry, atMost }] }, 'old.json').promises[0];
  // Two alike that are 60° apart make √3 of two: 20·log(2/√3).
  expect(read(60)).toMatchObject({ atMost: 1.249, weight: 4 });
  expect(read(30).atMost).toBeCloseTo(0.301, 3);
  expect(read(null).atMost).toBeNull();
});

test.each([1, 2, 3, 4, 5, 6, 7])(
  'lists of nothing in version %i are refused, not stumbled over',
  (version) => {
    for (const field of ['ways', 'drivers', 'measurements'])
      expect(() => readDesign({ ...demo, version, [field]: [null] }, 'old.json')).toThrow(
        ProblemError,
      );
  },
);

test('texts that no database takes are cleaned on reading', () => {
  expect(readDesign({ ...demo, name: 'a\u0000b \ud83d' }, 'x').name).toBe('ab \uFFFD');
});
