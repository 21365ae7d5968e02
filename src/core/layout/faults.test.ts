import { designOn, frontOf, mountedDriver } from '../../../tests/baffles';
import type { Mounting, Panel } from '@/core/document/baffleSchema';
import { emptyBrief } from '@/core/document/briefSchema';
import { createBaffleEffect } from '@/core/prediction/baffleEffect';
import { layoutFaults, tooLarge } from './faults';
import { withEdges } from './reshape';

const frame = { frameMm: 100, builtDepthMm: 60 };
const codesOf = (
  xMm: number,
  yMm: number,
  mounting: Partial<Mounting> = {},
  panel: Panel = frontOf(300, 400),
) =>
  layoutFaults(designOn(panel, mountedDriver('dome', xMm, yMm, { ...frame, ...mounting }))).map(
    ({ code, what }) => `${code}: ${what}`,
  );

test('a driver that keeps clear of everything has no fault', () =>
  expect(codesOf(0, 0)).toEqual([]));

test.each<[string, string[], RegExp]>([
  [
    'a frame over an edge',
    codesOf(110, 0),
    /frame_over_edge: dome stands 10 mm over the right edge/,
  ],
  ['a driver outside', codesOf(200, 0), /frame_over_edge: dome stands 100 mm over the right edge/],
  [
    'a frame in the rounding',
    codesOf(80, 0, {}, withEdges(frontOf(300, 400), { kind: 'round', sizeMm: 30 })),
    /frame_on_treated_edge: dome reaches 10 mm into what is rounded at the right edge/,
  ],
  [
    'a frame over a port',
    codesOf(0, 0, {}, frontOf(300, 400, { ports: [{ xMm: 60, yMm: 0, diameterMm: 40 }] })),
    /frame_over_port: dome and port 1 of Front overlap by 10 mm/,
  ],
  [
    'a port through the wall',
    codesOf(0, 0, {}, frontOf(300, 400, { ports: [{ xMm: 0, yMm: -180, diameterMm: 30 }] })),
    /port_over_edge: Port 1 of Front is 13 mm too near to the bottom edge/,
  ],
  [
    'a box that is too shallow',
    codesOf(0, 0, {}, frontOf(300, 400, { depthMm: 70 })),
    /box_too_shallow: dome is 8 mm too deep for Front/,
  ],
  [
    'a driver without room behind',
    codesOf(0, 0, {}, frontOf(300, 400, { depthMm: 83 })),
    /box_too_shallow: dome has only 5 mm behind it/,
  ],
])('%s is told with its figures', (_, found, told) => {
  expect(found).toHaveLength(1);
  expect(found[0]).toMatch(told);
});

test('a proud driver needs less depth, and an open baffle none', () => {
  const shallow = frontOf(300, 400, { depthMm: 83 });
  expect(codesOf(0, 0, { kind: 'proud', byMm: 6 }, shallow)).toEqual([]);
  expect(codesOf(0, 0, {}, { ...shallow, kind: 'open' })).toEqual([]);
});

test('an outline that turns inward is estimated and says so; one that crosses itself is refused', () => {
  const panel = frontOf(300, 400);
  const { edge } = panel.corners[0];
  const dented = { ...panel, corners: panel.corners.toSpliced(2, 0, { xMm: 60, yMm: 100, edge }) };
  expect(codesOf(-60, 0, {}, dented)).toEqual([
    expect.stringMatching(
      /outline_bent_inward: Front turns inward: what its edges do is estimated/,
    ),
  ]);
  const driver = mountedDriver('dome', -60, 0, frame);
  const effectOf = createBaffleEffect(Float64Array.of(100, 1000));
  expect(effectOf(designOn(dented, driver), driver)).not.toBeNull();
  const inDent = mountedDriver('dome', 130, 100, frame);
  expect(effectOf(designOn(dented, inDent), inDent)).toBeNull();
  const [a, b, c, d] = panel.corners;
  const crossed = { ...panel, corners: [a, c, b, d] };
  expect(codesOf(0, 0, {}, crossed)[0]).toMatch(/outline_crosses_itself: Edges of Front cross/);
  expect(effectOf(designOn(crossed, driver), driver)).toBeNull();
  const outside = mountedDriver('dome', 500, 0, frame);
  expect(effectOf(designOn(panel, outside), outside)).toBeNull();
});

test('frames that overlap are told once; a dome in the middle of a cone is meant', () => {
  const at = (x: number) =>
    layoutFaults(
      designOn(frontOf(300, 400), mountedDriver('a', 0, 0, frame), mountedDriver('b', x, 0, frame)),
    );
  expect(at(90).map(({ what }) => what)).toEqual(['a and b overlap by 10 mm.']);
  expect(at(0)).toEqual([]);
});

test('a wide cone meets the wall of the box though its frame fits the front', () => {
  const found = layoutFaults(
    designOn(frontOf(120, 400), mountedDriver('cone', 0, 0, { frameMm: 118 }, 75)),
  );
  // √(75 cm²/π) is 48.9 mm, the wall begins 42 mm from the middle.
  expect(found.map(({ code }) => code)).toEqual(['driver_on_side_wall', 'driver_on_side_wall']);
});

test('a front beyond what the brief allows is told', () => {
  const brief = { ...emptyBrief, widthMm: 280, heightMm: 500 };
  expect(tooLarge({ brief }, frontOf(300, 400))).toBe(
    'Front is 300 mm wide, the brief allows 280 mm.',
  );
  expect(tooLarge({ brief: emptyBrief }, frontOf(300, 400))).toBeNull();
});
