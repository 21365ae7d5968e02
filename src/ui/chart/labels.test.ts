import { logGrid } from '@/core/grid/logGrid';
import type { Curve } from './curve';
import { createLabelPlacer } from './labels';
import { plotOf } from './plot';

const hz = logGrid(20, 20_000, 24);
const area = { x: 34, y: 6, width: 320, height: 213 };
const view = { fromHz: 20, toHz: 20_000, bottom: 50, top: 100 };
const plot = plotOf(view, null, area);
const curve = (
  id: string,
  level: (octaves: number) => number,
  more: Partial<Curve> = {},
): Curve => ({
  ...{ id, label: id, colour: 'black', ...more },
  values: hz.map((f) => level(Math.log2(f / 1000))),
});
const low = curve('woofer', (o) => 88 - 6 * Math.max(0, o + 1));
const high = curve('tweeter', (o) => 88 - 9 * Math.max(0, 1 - o));
const sum = curve('sum', (o) => 88 + Math.sin(3 * o), { labelAt: 'start' });

/** Pixels of a name: as wide as it is written, as high as a line. */
const boxOf = ({
  curve: { label },
  left,
  baseline,
}: ReturnType<ReturnType<typeof createLabelPlacer>>[number]) => ({
  left,
  right: left + 5.8 * label.length,
  top: baseline - 9,
  bottom: baseline + 2,
});

test('names lie on no curve and on no other name, inside the plot, near the end that was asked for', () => {
  const curves = [low, high, sum];
  const placed = createLabelPlacer()(hz, curves, plot);
  const boxes = placed.map(boxOf);
  expect(placed.map((one) => one.curve.id)).toEqual(['woofer', 'tweeter', 'sum']);
  for (const box of boxes) {
    expect(box.left).toBeGreaterThanOrEqual(area.x);
    expect(box.right).toBeLessThanOrEqual(area.x + area.width);
    expect(box.top).toBeGreaterThanOrEqual(area.y);
    for (const one of curves)
      one.values.forEach((value, i) => {
        const [x, y] = [plot.x(hz[i]), plot.y(one)(value)];
        const isIn = x > box.left && x < box.right && y > box.top && y < box.bottom;
        expect(isIn).toBe(false);
      });
  }
  for (const [i, box] of boxes.entries())
    for (const other of boxes.slice(i + 1))
      expect(
        box.left < other.right &&
          other.left < box.right &&
          box.top < other.bottom &&
          other.top < box.bottom,
      ).toBe(false);
  // The sum's name is looked for at its beginning, the others' at their ends.
  expect(boxes[2].left).toBeLessThan(area.x + area.width / 3);
  expect(boxes[1].right).toBeGreaterThan(area.x + area.width / 2);
});

test('a name stays where it is while its curve moves a little, and leaves when something comes over it', () => {
  const place = createLabelPlacer();
  const [before] = place(hz, [low], plot);
  const [after] = place(hz, [{ ...low, values: low.values.map((db) => db + 0.2) }], plot);
  expect(after.place).toBe(before.place);
  const box = boxOf(after);
  const middle = view.top - ((box.top + box.bottom) / 2 - area.y) / (area.height / 50);
  const [moved] = place(hz, [low, curve('wall', () => middle, { label: '' })], plot);
  expect(moved.place).not.toBe(after.place);
});

test('what has no name, or nothing in the plot, gets none', () => {
  const place = createLabelPlacer();
  expect(place(hz, [{ ...low, label: '' }], plot)).toEqual([]);
  expect(place(hz, [curve('deep', () => 20), curve('none', () => NaN)], plot)).toEqual([]);
});
