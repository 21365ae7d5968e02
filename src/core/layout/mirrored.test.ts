import fc from 'fast-check';
import type { Boundary } from '@/core/document/surroundingsSchema';
import { mirrored } from './mirrored';

const kinds: readonly Boundary['kind'][] = [
  'floor',
  'desk',
  'front-wall',
  'left-wall',
  'right-wall',
];
const place = { x: 120, y: -340, z: 15 };
const at = (kind: Boundary['kind'], distanceMm: number): Boundary => ({
  ...{ kind, distanceMm, absorption: 0 },
});

test.each<[Boundary['kind'], typeof place]>([
  ['floor', { x: 120, y: -2 * 900 + 340, z: 15 }],
  ['desk', { x: 120, y: -2 * 900 + 340, z: 15 }],
  ['front-wall', { x: 120, y: -340, z: -2 * 900 - 15 }],
  ['left-wall', { x: -2 * 900 - 120, y: -340, z: 15 }],
  ['right-wall', { x: 2 * 900 - 120, y: -340, z: 15 }],
])('the image in a %s 900 mm away', (kind, image) =>
  expect(mirrored(at(kind, 900), place)).toEqual(image),
);

const anywhere = fc.double({ min: -5000, max: 5000, noNaN: true });
const point = fc.record({ x: anywhere, y: anywhere, z: anywhere });

test.each(kinds)('an image of an image in a %s is the place itself', (kind) =>
  fc.assert(
    fc.property(point, fc.double({ min: 1, max: 20_000, noNaN: true }), (from, distanceMm) => {
      const boundary = at(kind, distanceMm);
      const back = mirrored(boundary, mirrored(boundary, from));
      expect(back.x).toBeCloseTo(from.x, 6);
      expect(back.y).toBeCloseTo(from.y, 6);
      expect(back.z).toBeCloseTo(from.z, 6);
    }),
  ),
);

test.each(kinds)('places on a %s are their own images, and distances stay', (kind) =>
  fc.assert(
    fc.property(point, point, (a, b) => {
      const boundary = at(kind, 750);
      const on = {
        ...a,
        ...(kind === 'floor' || kind === 'desk' ? { y: -750 } : {}),
        ...(kind === 'front-wall' ? { z: -750 } : {}),
        ...(kind === 'left-wall' ? { x: -750 } : {}),
        ...(kind === 'right-wall' ? { x: 750 } : {}),
      };
      expect(mirrored(boundary, on)).toEqual(on);
      const apart = (p: typeof a, q: typeof a) => Math.hypot(p.x - q.x, p.y - q.y, p.z - q.z);
      expect(apart(mirrored(boundary, a), mirrored(boundary, b))).toBeCloseTo(apart(a, b), 6);
    }),
  ),
);
