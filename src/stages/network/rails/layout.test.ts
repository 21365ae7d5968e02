import { readDemo } from '../../../../tests/fixtures';
import { joinedWithNext, placed } from '@/core/editing/arrange';
import type { Way } from '@/core/document/schema';
import { layOutRails } from './layout';

const { design } = readDemo();
const { ways } = design;
const layOut = (rails: readonly Way[], roomPx: number) =>
  layOutRails({ ...design, ways: [...rails] }, roomPx);

test('parts are in order between their gaps, drivers in one line', () => {
  const { rows, widthPx } = layOut(ways, 900);
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
  const { cellPx, widthPx } = layOut(many, 600);
  expect(cellPx).toBe(70);
  expect(widthPx).toBeGreaterThan(1400);
});

/** The midrange's rail with its second to fourth part joined in two steps. */
const joined = (inner: 'series' | 'parallel', outer: 'series' | 'parallel') => {
  const way = ways[1];
  const once = { ...way, ...joinedWithNext(way, 'l3', inner, 'g1')! };
  return { ...once, ...joinedWithNext(once, 'l2', outer, 'g2')! };
};

test.each([
  ['parallel', 'series'],
  ['series', 'parallel'],
] as const)(
  'a %s group in a %s group: symbols keep apart, and hang between rail and return',
  (inner, outer) => {
    for (const place of ['series', 'shunt'] as const) {
      const way = joined(inner, outer);
      const [row] = layOut([{ ...way, ...placed(way, 'l2', place) }, ways[2]], 900).rows;
      expect(row.parts.map(({ part }) => part.name)).toEqual(way.parts.map(({ name }) => name));
      expect(row.gaps.map(({ index }) => index)).toEqual([0, 1, 4, 5]);
      row.parts.forEach((one, i) => {
        expect(one.y).toBeGreaterThanOrEqual(row.railY);
        expect(one.y).toBeLessThan(row.returnY);
        for (const other of row.parts.slice(i + 1))
          expect(Math.max(Math.abs(one.x - other.x), Math.abs(one.y - other.y))).toBeGreaterThan(
            40,
          );
      });
    }
  },
);

test('a row grows with what hangs in it, and the next one starts below', () => {
  const way = joined('series', 'series');
  const [tall, next] = layOut([{ ...way, ...placed(way, 'l2', 'shunt') }, ways[2]], 900).rows;
  const [usual] = layOut([ways[1]], 900).rows;
  expect(tall.returnY - tall.railY).toBeGreaterThan(2 * (usual.returnY - usual.railY));
  expect(next.railY).toBeGreaterThan(tall.returnY + 30);
});
