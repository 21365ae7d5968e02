import { readDemo, seededRandom } from '../../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { joinedWithNext, movedAlong, placed } from '@/core/editing/arrange';
import { arrangeWay } from '@/core/editing/change';
import { newPart } from '@/core/editing/newPart';
import type { Design, Way } from '@/core/document/schema';
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

/** The demo after many turns: parts joined, hung, moved and added at random. */
function turned(seed: number): Design {
  const random = seededRandom(seed);
  let now = design;
  for (let i = 0; i < 60; i++) {
    const way = now.ways[Math.floor(random() * now.ways.length)];
    if (way.parts.length === 0 || way.parts.length > 9) continue;
    const { id, place } = way.parts[Math.floor(random() * way.parts.length)];
    const tries = [
      () => joinedWithNext(way, id, random() < 0.5 ? 'series' : 'parallel', `g${i}`),
      () => placed(way, id, place === 'series' ? 'shunt' : 'series'),
      () => movedAlong(way, id, random() < 0.5 ? 1 : -1),
    ];
    const contents = tries[Math.floor(random() * tries.length)]();
    if (contents) now = applyChange(now, arrangeWay(way.id, contents));
    if (i % 5 === 0)
      now = applyChange(now, {
        type: 'addPart',
        wayId: way.id,
        index: Math.floor(random() * way.parts.length),
        part: newPart(now, i % 2 === 0 ? 'capacitor' : 'resistor', 'series', `p${i}`),
      });
  }
  return now;
}

describe.each([1, 2, 3, 4, 5, 6, 7, 8])('a drawing after many turns (seed %i)', (seed) => {
  const drawn = layOutRails(turned(seed), 900);

  test('every part stands once, in the row of its way', () => {
    const expected = turned(seed).ways.map(({ id, parts }) => [id, parts.map((one) => one.id)]);
    const found = drawn.rows.map(({ way, parts }) => [way.id, parts.map(({ part }) => part.id)]);
    expect(Object.fromEntries(found)).toEqual(Object.fromEntries(expected));
  });

  test('no two symbols lie on each other, and all lie in the drawing', () => {
    const all = drawn.rows.flatMap(({ parts }) => parts);
    for (const [i, one] of all.entries()) {
      expect(one.x).toBeGreaterThan(0);
      expect(one.x).toBeLessThan(drawn.widthPx);
      expect(one.y).toBeGreaterThan(0);
      expect(one.y).toBeLessThan(drawn.heightPx);
      for (const other of all.slice(i + 1))
        expect(Math.max(Math.abs(one.x - other.x), Math.abs(one.y - other.y))).toBeGreaterThan(30);
    }
  });

  test('rows follow each other downwards, each between its rail and its return', () => {
    for (const [r, row] of drawn.rows.entries()) {
      expect(row.returnY).toBeGreaterThan(row.railY);
      if (r > 0) expect(row.railY).toBeGreaterThan(drawn.rows[r - 1].returnY);
      for (const { y } of row.parts) expect(y).toBeLessThan(row.returnY);
      expect(row.wires).toMatch(/^M/);
      expect(row.wires).not.toMatch(/NaN|undefined|Infinity/);
    }
    expect(drawn.heightPx).toBeGreaterThanOrEqual(drawn.rows.at(-1)!.returnY);
  });

  test('gaps count up from the first place to the last, from left to right', () => {
    for (const { gaps, way } of drawn.rows) {
      expect(gaps[0].index).toBe(0);
      expect(gaps.at(-1)!.index).toBe(way.parts.length);
      gaps.slice(1).forEach(({ index, x }, i) => {
        expect(index).toBeGreaterThan(gaps[i].index);
        expect(x).toBeGreaterThan(gaps[i].x);
      });
    }
  });

  test('more room never makes it denser, less never lower than can be read', () => {
    const [narrow, wide] = [500, 1800].map((roomPx) => layOutRails(turned(seed), roomPx));
    expect(wide.cellPx).toBeGreaterThanOrEqual(narrow.cellPx);
    expect(narrow.cellPx).toBeGreaterThanOrEqual(70);
    expect(narrow.heightPx).toBe(wide.heightPx);
  });
});

test('a bus reaches over all rails of its terminals, and its own only', () => {
  const second = { ...design.terminals[0], id: 'second', name: 'Second' };
  const biwired = {
    ...design,
    terminals: [...design.terminals, second],
    ways: ways.map((way, w) =>
      w === 0 ? { ...way, from: { kind: 'terminals' as const, pairId: 'second' } } : way,
    ),
  };
  const { buses, rows } = layOutRails(biwired, 900);
  expect(buses.map(({ pair }) => pair.id).toSorted()).toEqual(
    biwired.terminals.map(({ id }) => id).toSorted(),
  );
  for (const { pair, topY, bottomY } of buses)
    for (const { way, railY } of rows) {
      const isOwn = way.from.kind === 'terminals' && way.from.pairId === pair.id;
      expect(railY >= topY - 1 && railY <= bottomY + 1).toBe(isOwn);
    }
});

test('a design without ways is a drawing without rows', () => {
  const { rows, bridges, heightPx } = layOutRails({ ...design, ways: [], bridges: [] }, 900);
  expect([rows, bridges]).toEqual([[], []]);
  expect(heightPx).toBeGreaterThanOrEqual(0);
});
