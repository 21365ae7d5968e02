import { portLengthM, tuningHz } from '@/core/box/enclosure';
import {
  usualPassive,
  usualPipe,
  usualPort,
  usualShell,
  type Box,
} from '@/core/document/boxSchema';
import { emptyDesign, emptyDriver, type Design } from '@/core/document/schema';
import {
  airOf,
  boxedDrivers,
  enclosureOf,
  lackingFigures,
  measuredEnclosure,
  portOf,
} from './enclosureOf';
import { cutSheets, usualStock } from './cutList';
import { materialTable, panelResonanceHz } from './materials';
import { driverLitres, netVolumeOf, outsideLitresOf, withNetLitres } from './netVolume';
import { boardsKg, boardsOf, wallsOf } from './panels';
import { portHits, tunedToHz, ventFit, withPortClear, withTuning } from './vent';

const empty = emptyDesign('Box');
const woofer = {
  ...emptyDriver('woofer', 'Woofer'),
  sheet: {
    ...emptyDriver('', '').sheet,
    ...{ fsHz: 30, qes: 0.4, qms: 4, vasLitres: 100, sdCm2: 340, reOhm: 5.5, xmaxMm: 6 },
  },
};
const design: Design = { ...empty, drivers: [woofer] };
const box: Box = {
  ...{ id: 'box', name: 'Box A', isUsed: true, driverIds: ['woofer'], kind: 'vented' },
  ...{ insideId: null, fill: 'none', ql: 7, passive: usualPassive, pipe: usualPipe },
  ...{ pathMm: 200, spliceHz: 200 },
  shell: { ...usualShell, takenLitres: 1 },
  port: { ...usualPort, lengthMm: 100, wallMm: 3 },
};
const air = airOf(design);

test('net volume: the inside less driver, port, braces, chambers and what else is in it', () => {
  const shell = {
    ...box.shell,
    braces: [{ across: 'height' as const, atMm: 300, thicknessMm: 20, openShare: 0.5 }],
  };
  const driver = { ...woofer, mounting: { ...woofer.mounting, cutoutMm: 236, builtDepthMm: 118 } };
  const chamber: Box = {
    ...box,
    ...{ id: 'mid', name: 'Chamber', driverIds: [], kind: 'sealed', insideId: 'box' },
    shell: { ...usualShell, widthMm: 200, heightMm: 150, depthMm: 100 },
  };
  const all = { drivers: [driver], boxes: [{ ...box, shell }, chamber] };
  const { grossLitres, netLitres, taken } = netVolumeOf({ ...box, shell }, all);
  expect(grossLitres).toBeCloseTo(0.262 * 0.662 * 0.312 * 1000, 9);
  expect(
    Object.fromEntries(taken.map(({ what, litres }) => [what, Number(litres.toFixed(3))])),
  ).toEqual({
    Woofer: Number(driverLitres(driver).toFixed(3)),
    // ⌀76 mm outside, 81 mm of it behind the front.
    port: Number(((Math.PI / 4) * 0.76 ** 2 * 0.81).toFixed(3)),
    'brace 1': Number((2.62 * 3.12 * 0.2 * 0.5).toFixed(3)),
    Chamber: 3,
    'network, boards, fill': 1,
  });
  expect(netLitres).toBeCloseTo(
    grossLitres - taken.reduce((sum, { litres }) => sum + litres, 0),
    9,
  );
  // A chamber in the box adds nothing outside.
  expect(outsideLitresOf(all.boxes)).toBeCloseTo(0.3 * 0.7 * 0.35 * 1000, 9);
  expect(outsideLitresOf([])).toBeNull();
});

test('a net volume asked for is reached by the depth; none without width', () => {
  const sized = withNetLitres(box, 70, design)!;
  expect(netVolumeOf(sized, design).netLitres).toBeCloseTo(70, 1);
  expect(sized.shell).toMatchObject({ widthMm: 300, heightMm: 700 });
  expect(withNetLitres({ ...box, shell: { ...box.shell, widthMm: 30 } }, 70, design)).toBeNull();
});

test('a tuning gives the length, with the room of the port in it; the length the tuning', () => {
  for (const hz of [25, 33, 45]) {
    const tuned = withTuning({ ...box, port: { ...box.port, diameterMm: 90 } }, hz, design, air)!;
    expect(tunedToHz(tuned, design, air)).toBeCloseTo(hz, 1);
    const enclosure = enclosureOf(tuned, design);
    const port = portOf(tuned.port);
    const litres = enclosure?.kind === 'vented' ? enclosure.volumeM3 : 0;
    expect(1000 * portLengthM(litres, hz, port, air)).toBeCloseTo(tuned.port.lengthMm, 0);
  }
  // Its end corrections alone tune lower than that.
  expect(withTuning({ ...box, port: { ...box.port, diameterMm: 30 } }, 90, design, air)).toBeNull();
});

test('a port fits with one diameter behind it; a bend gives it the height; outside it is always clear', () => {
  const long = (lengthMm: number, more: Partial<Box['port']> = {}) =>
    ventFit({ ...box, port: { ...box.port, lengthMm, ...more } });
  // 312 mm inside, 19 mm of front.
  expect(long(261)).toMatchObject({ clearanceMm: 70, neededMm: 70, fits: true });
  expect(long(262).fits).toBe(false);
  expect(long(400).clearanceMm).toBeLessThan(0);
  expect(long(400, { bends: 1 }).fits).toBe(true);
  expect(long(2000, { isOutside: true }).fits).toBe(true);
  expect(long(100, { count: 4, diameterMm: 200 }).fits).toBe(false);
});

test('a port keeps clear of drivers on the front, or goes to the rear', () => {
  const corners = [
    [-150, -350],
    [150, -350],
    [150, 350],
    [-150, 350],
  ].map(([xMm, yMm]) => ({ xMm, yMm, edge: { kind: 'sharp' as const, sizeMm: 0 } }));
  const panel = {
    ...{ id: 'front', name: 'Front', kind: 'box' as const, corners, depthMm: 350, thicknessMm: 19 },
    ...{ wingsMm: 0, setBackMm: 0, ports: [] },
  };
  const mounted = (frameMm: number): Design => ({
    ...design,
    panels: [panel],
    drivers: [
      {
        ...woofer,
        position: { xMm: 0, yMm: 0, zMm: 0 },
        mounting: { ...woofer.mounting, panelId: 'front', frameMm },
      },
    ],
  });
  const middle = { ...box, port: { ...box.port, heightMm: 331 } };
  expect(portHits(middle, mounted(260))).toBe('Woofer');
  const clear = withPortClear(middle, mounted(260));
  expect(clear.port.side).toBe('front');
  expect(portHits(clear, mounted(260))).toBeNull();
  expect(withPortClear(middle, mounted(640)).port.side).toBe('rear');
});

test('two drivers in one box are one of twice the area; figures that lack are named', () => {
  const two: Design = { ...design, drivers: [woofer, { ...woofer, id: 'second', name: 'Second' }] };
  const boxed = boxedDrivers({ ...box, driverIds: ['woofer', 'second'] }, two)!;
  expect(boxed.count).toBe(2);
  expect(boxed.system.driver).toMatchObject({ sdM2: 0.068, reOhm: 2.75 });
  expect(boxedDrivers({ ...box, driverIds: [] }, two)).toBeNull();
  expect(lackingFigures(emptyDriver('a', 'A'), 20)).toEqual([
    'fs',
    'Qms',
    'Qes',
    'Vas',
    'Sd',
    'Re',
  ]);
});

test('the box that a measurement holds has its tuning, and none adds nothing', () => {
  const vented = measuredEnclosure(
    { kind: 'vented', litres: 50, fill: 'none', tunedHz: 38, ql: 7 },
    air,
  );
  if (vented?.kind !== 'vented') throw new Error('no port');
  expect(tuningHz(vented.volumeM3, vented.port, air)).toBeCloseTo(38, 6);
  expect(measuredEnclosure({ kind: 'unknown' }, air)).toBeNull();
});

test.each(['butt', 'mitre', 'rebate'] as const)(
  'boards that are %sed make up the outside',
  (joint) => {
    const boards = boardsOf({ ...box, shell: { ...box.shell, joint } });
    const board = (name: string) => boards.find((one) => one.name === `Box A: ${name}`)!;
    const { wallMm: t, frontMm } = box.shell;
    const [front, rear, side, top] = ['front', 'rear', 'side', 'top and bottom'].map(board);
    if (joint === 'rebate') {
      // Front and rear lie half a wall deep on every side.
      expect([front.lengthMm, front.widthMm]).toEqual([700 - t, 300 - t]);
      expect([side.widthMm, top.widthMm, top.lengthMm]).toEqual([350, 350, 300]);
    } else {
      expect([front.lengthMm, front.widthMm, rear.lengthMm]).toEqual([700, 300, 700]);
      // Depth: front, board between, rear.
      expect(front.thicknessMm + side.widthMm + rear.thicknessMm).toBe(350);
      expect(joint === 'butt' ? side.lengthMm + 2 * t : side.lengthMm).toBe(700);
      expect(frontMm).toBe(front.thicknessMm);
    }
    expect(boards.every(({ count }) => count >= 1)).toBe(true);
  },
);

test('a front thicker than boards are sold is laid up of two', () => {
  const [front] = boardsOf({ ...box, shell: { ...box.shell, frontMm: 38 } });
  expect(front).toMatchObject({ count: 2, thicknessMm: 19 });
  expect(front.work).toContain('two layers');
});

test('boards lie on sheets without touching, the kerf between them, and none outside', () => {
  const boards = boardsOf(box).map((board) => ({ ...board, count: 2 * board.count }));
  const sheets = cutSheets(boards, usualStock);
  const pieces = sheets.flatMap((sheet, s) => sheet.pieces.map((piece) => ({ ...piece, s })));
  expect(pieces).toHaveLength(boards.reduce((sum, { count }) => sum + count, 0));
  for (const { xMm, yMm, lengthMm, widthMm } of pieces) {
    expect(xMm + lengthMm).toBeLessThanOrEqual(usualStock.lengthMm);
    expect(yMm + widthMm).toBeLessThanOrEqual(usualStock.widthMm);
  }
  const kerf = usualStock.kerfMm - 1e-9;
  pieces.forEach((a, i) => {
    for (const b of pieces.slice(i + 1)) {
      if (a.s !== b.s) continue;
      const isApart =
        a.xMm + a.lengthMm + kerf <= b.xMm ||
        b.xMm + b.lengthMm + kerf <= a.xMm ||
        a.yMm + a.widthMm + kerf <= b.yMm ||
        b.yMm + b.widthMm + kerf <= a.yMm;
      expect([a.name, b.name, isApart]).toEqual([a.name, b.name, true]);
    }
  });
  expect(pieces.every(({ isTurned }) => !isTurned)).toBe(true);
  const large = { ...boards[0], lengthMm: 2600 };
  expect(() => cutSheets([large], usualStock)).toThrow(/no sheet of 2500 × 1250 mm holds it/);
});

test.each([
  [
    'two boxes of a board without grain',
    'rebate',
    2,
    { lengthMm: 2500, widthMm: 1250, kerfMm: 3.2 },
  ],
  ['six of them', 'rebate', 6, { lengthMm: 2500, widthMm: 1250, kerfMm: 3.2 }],
  ['small sheets', 'butt', 3, { lengthMm: 1250, widthMm: 715, kerfMm: 4.5 }],
  ['square sheets', 'butt', 4, { lengthMm: 720, widthMm: 720, kerfMm: 4.5 }],
] as const)('boards that may turn are laid as they are turned: %s', (_, joint, count, sheet) => {
  const stock = { ...sheet, mayTurn: true };
  const boards = boardsOf({ ...box, shell: { ...box.shell, joint } });
  const sheets = cutSheets(
    boards.map((board) => ({ ...board, count: count * board.count })),
    stock,
  );
  let turned = 0;
  for (const { pieces } of sheets) {
    for (const [i, a] of pieces.entries()) {
      const board = boards.find(({ name }) => a.name.startsWith(name))!;
      const sides = [board.lengthMm, board.widthMm];
      expect([a.lengthMm, a.widthMm]).toEqual(a.isTurned ? sides.toReversed() : sides);
      if (a.isTurned) turned++;
      expect(a.xMm + a.lengthMm).toBeLessThanOrEqual(stock.lengthMm + 1e-6);
      expect(a.yMm + a.widthMm).toBeLessThanOrEqual(stock.widthMm + 1e-6);
      for (const b of pieces.slice(i + 1)) {
        const apart = Math.max(
          ...[b.xMm - a.xMm - a.lengthMm, a.xMm - b.xMm - b.lengthMm],
          ...[b.yMm - a.yMm - a.widthMm, a.yMm - b.yMm - b.widthMm],
        );
        expect(apart).toBeGreaterThanOrEqual(stock.kerfMm - 1e-6);
      }
    }
  }
  expect(turned).toBeGreaterThan(0);
});

test('plates resonate as the handbook says, and a brace sets its wall higher', () => {
  // Leissa, Vibration of Plates, table 4.22: clamped square λ² = 35.99, hinged 2π² = 19.74.
  const material = { ...materialTable.mdf, stiffnessGpa: [3, 3] as const };
  const [hinged, clamped] = panelResonanceHz(material, 19, 400, 400);
  const unit = Math.sqrt((3e9 * 0.019 ** 3) / (12 * (1 - 0.09)) / (740 * 0.019)) / 0.16;
  expect(hinged / unit).toBeCloseTo(19.74 / (2 * Math.PI), 2);
  expect(Math.abs(clamped / unit / (35.99 / (2 * Math.PI)) - 1)).toBeLessThan(0.01);
  const sides = (braces: Box['shell']['braces']) =>
    wallsOf({ ...box.shell, braces }).find(({ name }) => name === 'sides')!;
  const brace = { across: 'height' as const, atMm: 290, thicknessMm: 19, openShare: 0.6 };
  expect(sides([brace]).spanMm[1]).toBe(372);
  expect(sides([brace]).hz[0]).toBeGreaterThan(1.3 * sides([]).hz[0]);
  expect(boardsKg(box)).toBeGreaterThan(10);
});
