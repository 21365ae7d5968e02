import { usualPipe, usualShell } from '@/core/document/boxSchema';
import { emptyDesign, emptyDriver } from '@/core/document/schema';
import { driversInBox, leastXmaxMm } from './driversInBox';
import { readDemo } from '../../../tests/fixtures';
import { dividersOf, lineFacts } from './line';
import { netVolumeOf } from './netVolume';
import { withKind } from './withKind';

test('a line’s length, volume and odd quarter waves, c/4L and 3c/4L', () => {
  const segments = [
    { lengthMm: 1200, areaCm2: 400, flowResistivity: 2000 },
    { lengthMm: 500, areaCm2: 250, flowResistivity: 0 },
  ];
  const facts = lineFacts({ ...usualPipe, segments }, 343.2);
  expect(facts.lengthMm).toBe(1700);
  expect(facts.litres).toBeCloseTo(48 + 12.5, 9);
  // Its last segment is narrower, which lowers both of its resonances.
  expect(facts.quarterHz).toBeLessThan(343.2 / (4 * 1.7) - 3);
  const even = lineFacts(
    { ...usualPipe, segments: segments.map((one) => ({ ...one, areaCm2: 400 })) },
    343.2,
  );
  expect(even.quarterHz).toBeCloseTo(343.2 / (4 * 1.7), 6);
  expect(even.threeQuartersHz / even.quarterHz).toBeCloseTo(3, 8);
  expect(facts.thirdMm).toBeCloseTo(1700 / 3, 9);
});

test('a folded line has a board at each turn, which leaves the line’s width open', () => {
  // Inside 262 × 662 × 312 mm: 1700 mm are two passes and a half.
  const [first, second, ...more] = dividersOf(
    {
      ...usualPipe,
      segments: [
        { lengthMm: 800, areaCm2: 400, flowResistivity: 0 },
        { lengthMm: 900, areaCm2: 131, flowResistivity: 0 },
      ],
    },
    usualShell,
  );
  expect(more).toEqual([]);
  expect([first.widthMm, second.widthMm]).toEqual([262, 262]);
  expect(first.openMm).toBeCloseTo(40_000 / 262, 9);
  expect(second.openMm).toBeCloseTo(50, 9);
  expect(first.lengthMm + first.openMm).toBeCloseTo(662, 9);
  const long = (lengthMm: number, shell = usualShell) =>
    dividersOf({ ...usualPipe, segments: [{ lengthMm, areaCm2: 100, flowResistivity: 0 }] }, shell)
      .length;
  // As long as the box is high it is not folded; a lying box folds along its depth.
  expect([long(662), long(663), long(1324), long(1325)]).toEqual([0, 1, 1, 2]);
  expect(long(662, { ...usualShell, heightMm: 350, depthMm: 700 })).toBe(0);
  // More boards than go in, or no inside at all: no fold to be told of.
  expect(long(20_000)).toBe(0);
  expect(long(1000, { ...usualShell, widthMm: 38 })).toBe(0);
});

test('drivers of a box in the order of the design, and the least Xmax that one of them states', () => {
  const stating = (id: string, xmaxMm: number | null) => {
    const driver = emptyDriver(id, id);
    return { ...driver, sheet: { ...driver.sheet, xmaxMm } };
  };
  const { drivers } = {
    ...emptyDesign('Three'),
    drivers: [stating('a', 6), stating('b', null), stating('c', 4)],
  };
  expect(driversInBox({ driverIds: ['c', 'a'] }, drivers).map(({ id }) => id)).toEqual(['a', 'c']);
  expect(leastXmaxMm({ driverIds: ['a', 'b', 'c'] }, drivers)).toBe(4);
  expect(leastXmaxMm({ driverIds: ['b'] }, drivers)).toBeNull();
  expect(leastXmaxMm({ driverIds: ['gone'] }, drivers)).toBeNull();
});

test('a first line is one that its box holds, dividers and all; one that was set stays', () => {
  const { design } = readDemo();
  const [box] = design.boxes;
  const line = withKind(box, 'line', design);
  const { litres } = lineFacts(line.pipe, 343.2);
  const { netLitres } = netVolumeOf(line, design);
  expect(litres).toBeLessThanOrEqual(netLitres);
  expect(litres).toBeGreaterThan(0.9 * netLitres);
  const pipe = { ...box.pipe, segments: [{ ...box.pipe.segments[0], areaCm2: 401 }] };
  expect(withKind({ ...box, pipe }, 'line', design).pipe).toEqual(pipe);
});
