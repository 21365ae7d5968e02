/** Holes of a box: all of them on their boards, as on the drilling drawing, and none that can't be sawn. */
import { readSession } from '../../../tests/fixtures';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { applyChange } from '@/core/editing/applyChange';
import { drillDrawingOf } from './drillDrawing';
import { boxHoles } from '@/core/cabinet/holes';
import { boardsOf, holeWords } from '@/core/cabinet/panels';
import { sawFaults } from '@/core/cabinet/sawFaults';

const { design: session } = readSession();
const [given] = session.boxes;
const asBuilt: Box = { ...given, isUsed: true };
const design = applyChange(session, { type: 'setBox', box: asBuilt });
const boxWith = (change: Partial<Box>): Box => ({ ...asBuilt, ...change });
const shellWith = (change: Partial<Box['shell']>): Box =>
  boxWith({ shell: { ...asBuilt.shell, ...change } });
const boardOf = (box: Box, name: string, of: Design = design) =>
  boardsOf(box, boxHoles(of, box)).find((board) => board.name.endsWith(`: ${name}`))!;
const codes = (box: Box, of = design) => sawFaults(of, box).map(({ code }) => code);

test('the front has the holes of every driver on it, at the places of the drilling drawing', () => {
  const [panel] = design.panels;
  for (const box of [asBuilt, boxWith({ kind: 'vented' })]) {
    const used = applyChange(design, { type: 'setBox', box });
    const { holes } = boardOf(box, 'front', used);
    expect(holes.filter(({ kind }) => kind === 'driver').map(({ what }) => what)).toEqual([
      ...['Woofer', 'Midrange', 'Tweeter'],
    ]);
    const { circles } = drillDrawingOf(used, panel);
    const cut = holes.map(({ xMm, yMm, diameterMm }) => [xMm, yMm, diameterMm]);
    expect(
      circles.filter(({ layer }) => layer === 'cut').map(({ x, y, diameter }) => [x, y, diameter]),
    ).toEqual(cut);
    const recesses = holes.flatMap(({ xMm, yMm, recess }) =>
      recess ? [[xMm, yMm, recess.diameterMm]] : [],
    );
    expect(
      circles
        .filter(({ layer }) => layer === 'recess')
        .map(({ x, y, diameter }) => [x, y, diameter]),
    ).toEqual(recesses);
    expect(holes.some(({ kind }) => kind === 'port')).toBe(box.kind === 'vented');
  }
  expect(holeWords(boardOf(asBuilt, 'front').holes[0])).toBe(
    'Woofer: hole ⌀236 mm, recess ⌀266 mm 7 mm deep, 150 mm from the left, 190 mm from below',
  );
});

test('openings of the rear and the terminals are on the rear, clear of each other', () => {
  const port = { ...asBuilt.port, side: 'rear' as const, heightMm: 100, count: 2 };
  const { holes } = boardOf(boxWith({ kind: 'vented', port }), 'rear');
  expect(holes.map(({ kind }) => kind)).toEqual(['port', 'port', 'terminals']);
  expect(holes.map(({ xMm }) => xMm)).toEqual([100, 200, 150]);
  // 19 mm of wood below the inside, and a tube of 70 mm with walls of 3 mm.
  expect(holes[0]).toMatchObject({ yMm: 119, diameterMm: 76 });
  expect(Math.hypot(holes[2].xMm - 100, holes[2].yMm - 119)).toBeGreaterThan(38 + 50);
  const flared = { ...port, outerEnd: 'flared' as const, flareMm: 12 };
  expect(holeWords(boardOf(boxWith({ kind: 'vented', port: flared }), 'rear').holes[0])).toContain(
    'flared to ⌀94 mm',
  );
  const passive = boardOf(boxWith({ kind: 'passive-radiator' }), 'rear').holes;
  expect(passive.map(({ kind }) => kind)).toEqual(['passive', 'terminals']);
  expect(passive[0].diameterMm).toBeGreaterThan(2 * Math.sqrt(34_000 / Math.PI));
  const slot = { ...port, shape: 'slot' as const };
  expect(boardOf(boxWith({ kind: 'vented', port: slot }), 'rear').holes[0].slotMm).toEqual({
    width: 200,
    height: 25,
  });
});

test('of a rebated front holes are as much nearer to its corner as it is smaller', () => {
  const rebated = shellWith({ joint: 'rebate' });
  const [plain, let_in] = [asBuilt, rebated].map((box) => boardOf(box, 'front'));
  const lip = asBuilt.shell.wallMm / 2;
  expect([let_in.lengthMm, let_in.widthMm]).toEqual([710 - 2 * lip, 300 - 2 * lip]);
  expect(let_in.holes.map(({ xMm, yMm }) => [xMm + lip, yMm + lip])).toEqual(
    plain.holes.map(({ xMm, yMm }) => [xMm, yMm]),
  );
});

test('rebates that are told add up to the outside of the box', () => {
  const box = shellWith({ joint: 'rebate' });
  const [top, side] = ['top and bottom', 'side'].map((name) => boardOf(box, name));
  const deep = (work: readonly string[], what: string) => {
    const one = work.find((words) => words.includes(what))!;
    return /rebate ([\d.]+) mm deep and ([\d.]+) mm wide/.exec(one)!.slice(1).map(Number);
  };
  const [inTop, forSides] = deep(top.work, 'for the sides');
  // Height: top, the side that is let into both, bottom.
  expect(side.lengthMm + 2 * (top.thicknessMm - inTop)).toBe(710);
  expect(forSides).toBe(side.thicknessMm);
  const [inFront, frontWide] = deep(side.work, 'front');
  const front = boardOf(box, 'front');
  expect(front.widthMm + 2 * (side.thicknessMm - inFront)).toBe(300);
  expect(frontWide).toBe(front.thicknessMm);
  expect(deep(side.work, 'rear')[1]).toBe(boardOf(box, 'rear').thicknessMm);
  // Depth: the boards around are as deep as the box, front and rear lie in them.
  expect([top.widthMm, side.widthMm]).toEqual([380, 380]);
});

describe('what can’t be sawn', () => {
  test('is nothing of the demo’s box', () => expect(codes(asBuilt)).toEqual([]));

  test('is a recess that is wider than its board, and a hole that meets the walls', () => {
    expect(codes(shellWith({ widthMm: 240 }))).toContain('cut_over_edge');
    expect(codes(shellWith({ widthMm: 270 }))).toContain('cut_into_wall');
    const [first] = sawFaults(design, shellWith({ widthMm: 200 }));
    expect(first.what).toBe('Woofer is cut 266 mm wide, 33 mm over the edge of the front.');
  });

  test('is a driver that is deeper than the box, told with the depth that would do', () => {
    const [fault] = sawFaults(design, shellWith({ depthMm: 120 }));
    expect(fault.what).toBe('Woofer is 17 mm too deep for the box.');
    expect(fault.mend).toBe('Make the box at least 147 mm deep.');
    expect(codes(shellWith({ depthMm: 147 }))).toEqual([]);
  });

  test('is a port through the wall, drivers in one place, and an inside that is full', () => {
    const long = { ...asBuilt.port, lengthMm: 700 };
    expect(codes(boxWith({ kind: 'vented', port: long }))).toContain('port_through_wall');
    expect(codes(shellWith({ takenLitres: 500 }))).toContain('box_without_room');
    const moved = applyChange(design, {
      type: 'editDriver',
      id: 'tweeter',
      set: {
        position: { ...design.drivers[2].position, yMm: design.drivers[1].position.yMm + 40 },
      },
    });
    expect(codes(asBuilt, moved)).toContain('cuts_overlap');
  });

  test('asks nothing of the depth of an open baffle', () => {
    expect(
      codes(boxWith({ kind: 'open-baffle', shell: { ...asBuilt.shell, depthMm: 60 } })),
    ).toEqual([]);
  });
});
