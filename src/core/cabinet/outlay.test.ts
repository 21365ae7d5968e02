import {
  usualPassive,
  usualPipe,
  usualPort,
  usualShell,
  type Box,
} from '@/core/document/boxSchema';
import { emptyDesign } from '@/core/document/schema';
import { dividersOf } from './line';
import { materialTable } from './materials';
import { netVolumeOf } from './netVolume';
import { boardPriceOf, boxOutlay } from './outlay';
import { boardsKg, boardsOf } from './panels';

const design = emptyDesign('Prices');
const box: Box = {
  ...{ id: 'box', name: 'Box A', isUsed: true, driverIds: [], kind: 'sealed' },
  ...{ insideId: null, fill: 'none', ql: null, passive: usualPassive, pipe: usualPipe },
  ...{ pathMm: 200, spliceHz: 200, port: usualPort },
  shell: { ...usualShell, boardPrice: 40 },
};
const area = (of: Box) =>
  boardsOf(of).reduce((sum, { count, lengthMm, widthMm }) => sum + count * lengthMm * widthMm, 0) /
  1e6;

test('boards cost their area and a quarter of each sheet that is lost, at the price that is stated', () => {
  const { boards, fill, opening, whole } = boxOutlay(box, design);
  // All boards of the usual shell are as thick as its walls.
  expect(boards).toBeCloseTo((40 * area(box)) / 0.75, 9);
  expect([fill, opening]).toEqual([0, 0]);
  expect(whole).toBe(boards);
});

test('a front twice as thick costs its area once more', () => {
  const thick = boxOutlay({ ...box, shell: { ...box.shell, frontMm: 38 } }, design).boards;
  const plain = boxOutlay(box, design).boards;
  const { widthMm, heightMm, depthMm } = box.shell;
  // The four boards between front and rear get shorter by as much as the front gets thicker.
  const shorter = (2 * 19 * (widthMm + heightMm - 2 * 19)) / 1e6;
  const front = (widthMm * heightMm) / 1e6;
  expect(depthMm).toBeGreaterThan(38);
  expect(thick - plain).toBeCloseTo((40 * (front - shorter)) / 0.75, 6);
});

test('without a stated price the usual one of the material counts, by thickness; 0 is a price', () => {
  for (const [material, { price }] of Object.entries(materialTable)) {
    const shell = { material: material as keyof typeof materialTable, wallMm: 24 };
    expect(boardPriceOf({ ...shell, boardPrice: null })).toBeCloseTo((price * 24) / 18, 12);
    expect(boardPriceOf({ ...shell, boardPrice: 0 })).toBe(0);
  }
  expect(boxOutlay({ ...box, shell: { ...box.shell, boardPrice: 0 } }, design).whole).toBe(0);
});

test.each([
  ['none', 0],
  ['walls', 0.25],
  ['half', 0.5],
  ['full', 1],
] as const)('fill %s costs for %d of the net volume', (fill, share) => {
  const { netLitres } = netVolumeOf(box, design);
  expect(boxOutlay({ ...box, fill }, design).fill).toBeCloseTo(0.25 * share * netLitres, 9);
});

test('a line costs for the fibre in its segments, not for the room of its shell', () => {
  const segments = [
    { lengthMm: 1000, areaCm2: 300, flowResistivity: 5000 },
    { lengthMm: 500, areaCm2: 200, flowResistivity: 0 },
    { lengthMm: 100, areaCm2: 100, flowResistivity: 90_000 },
  ];
  const line: Box = { ...box, kind: 'line', fill: 'full', pipe: { ...usualPipe, segments } };
  // 30 l half as dense as can be, 10 l empty, 1 l as dense as can be.
  expect(boxOutlay(line, design).fill).toBeCloseTo(0.25 * (15 + 1), 9);
});

test('the boards that fold a line are cut, weighed, paid for and take room', () => {
  const line: Box = { ...box, kind: 'line' };
  const dividers = dividersOf(line.pipe, line.shell);
  expect(dividers).toHaveLength(2);
  const mm2 = dividers.reduce((sum, { lengthMm, widthMm }) => sum + lengthMm * widthMm, 0);
  const [cost, plain] = [boxOutlay(line, design), boxOutlay(box, design)];
  expect(cost.boards - plain.boards).toBeCloseTo((40 * mm2) / 1e6 / 0.75, 9);
  const { density } = materialTable[line.shell.material];
  expect(boardsKg(line) - boardsKg(box)).toBeCloseTo((mm2 * 19 * density) / 1e9, 9);
  expect(netVolumeOf(box, design).netLitres - netVolumeOf(line, design).netLitres).toBeCloseTo(
    (mm2 * 19) / 1e6,
    9,
  );
  expect(boardsOf(line).map(({ name }) => name)).toContain('Box A: divider 2');
});

test('tubes cost by number, bore, bends and flares; slots are boards; passive cones by their area', () => {
  const opening = (change: Partial<Box>) => boxOutlay({ ...box, ...change }, design).opening;
  const port = { ...usualPort, diameterMm: 100 };
  const one = opening({ kind: 'vented', port });
  expect(opening({ kind: 'vented', port: { ...port, count: 3 } })).toBeCloseTo(3 * one, 9);
  expect(opening({ kind: 'vented', port: { ...port, diameterMm: 60 } })).toBeLessThan(one);
  expect(opening({ kind: 'vented', port: { ...port, bends: 1 } })).toBeGreaterThan(one);
  expect(opening({ kind: 'vented', port: { ...port, outerEnd: 'flared' } })).toBeGreaterThan(one);
  expect(opening({ kind: 'vented', port: { ...port, shape: 'slot' } })).toBe(0);
  const passive = opening({ kind: 'passive-radiator' });
  expect(opening({ kind: 'passive-radiator', passive: { ...usualPassive, count: 2 } })).toBeCloseTo(
    2 * passive,
    9,
  );
  expect(opening({ kind: 'sealed' })).toBe(0);
});

test('an open baffle is one board', () => {
  const open: Box = { ...box, kind: 'open-baffle', fill: 'full' };
  const { boards, fill } = boxOutlay(open, design);
  const { widthMm, heightMm } = box.shell;
  expect(boards).toBeCloseTo((40 * widthMm * heightMm) / 1e6 / 0.75, 9);
  expect(fill).toBe(0);
});
