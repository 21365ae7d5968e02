import { logGrid } from '@/core/grid/logGrid';
import { piecesActing } from './diffraction/acting';
import { createFirstOrder } from './diffraction/firstOrder';
import { beamRadius, type Observer } from './diffraction/sending';
import {
  createMountedDiffraction,
  stepOf,
  type MountedDriver,
  type Seating,
} from './mountedDriver';
import { rectangle, sharpEdge } from './shape';
import { prism } from './solid';

const speed = 343.2;
const grid = logGrid(200, 16_000, 6);
const ahead: Observer = { kind: 'far', direction: { x: 0, y: 0, z: 1 } };
const flush: Seating = { kind: 'flush', byM: 0, frameRadiusM: 0.052, mouthRadiusM: null };
const driver = (seating: Partial<Seating>): MountedDriver => ({
  kind: 'box',
  shape: {
    outline: rectangle(0.22, 0.36),
    edges: [sharpEdge, sharpEdge, sharpEdge, sharpEdge],
    depthM: 0.26,
  },
  ...{ x: 0.11, y: 0.27, radiusM: 0.0125 },
  seating: { ...flush, ...seating },
});
const levels = (seating: Partial<Seating>, observer = ahead) => {
  const { re, im } = createMountedDiffraction(driver(seating), grid, speed).toward(observer);
  return re.map((value, i) => 20 * Math.log10(Math.hypot(value, im[i])));
};
const most = (a: Float64Array, b: Float64Array) =>
  Math.max(...a.map((value, i) => Math.abs(value - b[i])));

test('a frame matters the more the prouder it is, and nothing when it is flush', () => {
  const level = levels({});
  expect(levels({ kind: 'proud', byM: 0 })).toEqual(level);
  const [thin, usual, thick] = [0.0005, 0.002, 0.004].map((byM) =>
    most(levels({ kind: 'proud', byM }), level),
  );
  expect(thin).toBeLessThan(0.5);
  expect(usual).toBeGreaterThan(thin);
  expect(thick).toBeGreaterThan(usual);
  expect(thick).toBeLessThan(6);
});

test('to first order in its height a recess does the opposite of a frame', () => {
  const level = levels({});
  const [up, down] = (['proud', 'recessed'] as const).map((kind) => levels({ kind, byM: 0.0003 }));
  up.forEach((db, i) => expect(db - level[i] + (down[i] - level[i])).toBeCloseTo(0, 1));
});

test('where nothing is known of a frame it is taken a quarter wider than the cone', () => {
  const proud = stepOf({ ...flush, kind: 'proud', byM: 0.003, frameRadiusM: null }, 0.04)!;
  expect(proud.radiusM).toBeCloseTo(0.05, 12);
  expect(proud.heightM).toBe(0.003);
  expect(stepOf(flush, 0.04)).toBeNull();
  expect(stepOf({ ...flush, kind: 'behind', byM: 0.018 }, 0.04)!.heightM).toBe(-0.018);
});

test('a waveguide keeps its angle above the frequency at which its mouth does', () => {
  const guide = { mouthRadiusM: 0.09, depthM: 0.05 };
  const source = { x: 0, y: 0, radiusM: 0.0125, guide };
  expect(beamRadius(source, 300, speed)).toBe(0.09);
  const [low, high] = [beamRadius(source, 5000, speed), beamRadius(source, 10_000, speed)];
  expect(low / high).toBeCloseTo(2, 6);
  expect(beamRadius({ x: 0, y: 0, radiusM: 0.0125 }, 5000, speed)).toBe(0.0125);
  // Its edges get less of it: on the axis there is less ripple.
  const guided = { kind: 'waveguide', byM: 0.05, mouthRadiusM: 0.09 } as const;
  const ripple = (all: Float64Array) => {
    const band = [...all].filter((_, i) => grid[i] > 2000);
    return Math.max(...band) - Math.min(...band);
  };
  expect(ripple(levels(guided))).toBeLessThan(0.6 * ripple(levels({})));
});

test('the edges one by one add up to the first order, and pieces to the edges', () => {
  const solid = prism(rectangle(0.22, 0.36), 0.26);
  const source = { x: 0.09, y: 0.27, radiusM: 0 };
  const hz = Float64Array.of(800, 2500, 6000);
  for (const observer of [ahead, { kind: 'point', at: { x: 0.11, y: 0.18, z: 1.5 } } as const]) {
    const first = createFirstOrder(solid, source, hz, speed);
    const whole = first.toward(observer);
    const edges = first.perEdge(observer);
    const away = observer.kind === 'far' ? null : observer.at;
    hz.forEach((one, i) => {
      const sum = edges.reduce((total, edge) => total + edge.re[i], 0);
      if (!away) expect(whole.re[i]).toBeCloseTo(1 + sum, 6);
      const pieces = piecesActing(solid, source, observer, one, speed);
      edges.forEach((edge, e) => {
        const own = pieces.filter((piece) => piece.edge === e);
        const [re, im] = [
          own.reduce((total, piece) => total + piece.re, 0),
          own.reduce((total, piece) => total + piece.im, 0),
        ];
        expect(Math.hypot(re - edge.re[i], im - edge.im[i])).toBeLessThan(0.02);
      });
    });
  }
});
