import { readDemo } from '../../../tests/fixtures';
import { layOutRails } from './layout';

const { ways } = readDemo().design;

test('parts stand in order between their gaps, drivers in one line', () => {
  const { rows, widthPx } = layOutRails(ways, 900);
  expect(widthPx).toBe(900);
  expect(new Set(rows.map((row) => row.driverX)).size).toBe(1);
  for (const { parts, gaps, driverX, way } of rows) {
    expect(gaps).toHaveLength(way.parts.length + 1);
    parts.forEach(({ x }, i) => {
      expect(x).toBeGreaterThan(gaps[i].x);
      expect(x).toBeLessThan(gaps[i + 1].x);
    });
    expect(gaps[gaps.length - 1].x).toBeLessThan(driverX);
  }
});

test('too many parts make the drawing wider, not denser than can be read', () => {
  const many = [{ ...ways[0], parts: Array.from({ length: 20 }, () => ways[0].parts[0]) }];
  const { cellPx, widthPx } = layOutRails(many, 600);
  expect(cellPx).toBe(70);
  expect(widthPx).toBeGreaterThan(1400);
});
