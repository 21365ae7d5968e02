import { pistonDirectivity } from '@/core/radiation/piston';
import { pistonPoints } from './pistonPoints';

test('points of a piston add up like the piston, in any direction', () => {
  const radius = 0.05;
  const points = pistonPoints(0.1, 0.2, radius);
  expect(points.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 12);
  for (const ka of [0.1, 1, 3, 6, 9])
    for (const turn of [0, 0.7, 2]) {
      const k = ka / radius;
      const [re, im] = points.reduce(
        ([x, y], point) => {
          const phase = k * ((point.x - 0.1) * Math.cos(turn) + (point.y - 0.2) * Math.sin(turn));
          return [x + point.share * Math.cos(phase), y + point.share * Math.sin(phase)];
        },
        [0, 0],
      );
      expect(re).toBeCloseTo(pistonDirectivity(ka), 3);
      expect(im).toBeCloseTo(0, 3);
    }
});

test('a piston without a radius is a point', () =>
  expect(pistonPoints(1, 2, 0)).toEqual([{ x: 1, y: 2, share: 1 }]));
