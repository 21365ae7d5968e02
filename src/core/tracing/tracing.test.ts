import { axesOf, type AxisMarks } from './axes';
import { darkestNear, followColour, type Picture } from './follow';
import { tracedTable } from './tracedTable';

const across: AxisMarks = {
  isLogarithmic: true,
  at: [
    { x: 100, y: 300 },
    { x: 300, y: 300 },
  ],
  values: [100, 10_000],
};
const up: AxisMarks = {
  isLogarithmic: false,
  at: [
    { x: 50, y: 280 },
    { x: 50, y: 80 },
  ],
  values: [60, 100],
};

describe('axes', () => {
  test('give frequency and level of a point, wherever the marks were set on their lines', () => {
    const { toValues, toPicture } = axesOf(across, up);
    expect(toValues({ x: 200, y: 180 }).x).toBeCloseTo(1000, 6);
    expect(toValues({ x: 200, y: 180 }).y).toBeCloseTo(80, 9);
    const back = toPicture({ x: 1000, y: 80 });
    expect(back.x).toBeCloseTo(200, 9);
    expect(back.y).toBeCloseTo(180, 9);
  });

  test('may lie crooked on the scan', () => {
    const turn = ({ x, y }: { x: number; y: number }) => ({ x: x - 0.05 * y, y: y + 0.05 * x });
    const turned = (marks: AxisMarks): AxisMarks => ({
      ...marks,
      at: [turn(marks.at[0]), turn(marks.at[1])],
    });
    const { toValues } = axesOf(turned(across), turned(up));
    const { x, y } = toValues(turn({ x: 250, y: 130 }));
    expect(x).toBeCloseTo(10 ** 3.5, 4);
    expect(y).toBeCloseTo(90, 6);
  });

  test.each<[string, AxisMarks, AxisMarks, RegExp]>([
    ['marks in one place', { ...across, at: [across.at[0], across.at[0]] }, up, /in one place/],
    ['one value twice', { ...across, values: [100, 100] }, up, /same value/],
    ['a logarithm of nothing', { ...across, values: [0, 100] }, up, /above 0 only/],
    ['axes in one direction', across, { ...up, at: across.at }, /same direction/],
  ])('%s is refused', (_, a, b, message) => expect(() => axesOf(a, b)).toThrow(message));
});

/** A picture with white paper and lines drawn by a test. */
function paper(width: number, height: number) {
  const data = new Uint8ClampedArray(4 * width * height).fill(255);
  const dot = (x: number, y: number, [r, g, b]: readonly number[]) => {
    if (x < 0 || y < 0 || x >= width || y >= height) return;
    data.set([r, g, b], 4 * (Math.round(y) * width + Math.round(x)));
  };
  return { picture: { width, height, data } satisfies Picture, dot };
}
const blue = [20, 60, 190];
const red = [200, 40, 30];
const grey = [190, 190, 190];
const whole = { left: 0, top: 0, right: 399, bottom: 299 };

describe('a curve followed by its colour', () => {
  const course = (x: number) => 150 - 60 * Math.sin(x / 55) - 0.08 * (x - 200);
  const drawn = (isDashed = false) => {
    const { picture, dot } = paper(400, 300);
    for (let x = 0; x < 400; x++) for (let y = 0; y < 300; y += 30) dot(x, y, grey);
    for (let y = 0; y < 300; y++) for (let x = 0; x < 400; x += 40) dot(x, y, grey);
    // Another curve crosses it.
    for (let x = 0; x < 400; x++) for (const off of [-1, 0, 1]) dot(x, 90 + 0.3 * x + off, red);
    for (let x = 20; x < 380; x++) {
      if (isDashed && x % 12 > 7) continue;
      const [from, to] = [course(x), course(x + 1)].sort((a, b) => a - b);
      for (let y = from - 1; y <= to + 1; y++) dot(x, y, blue);
    }
    return picture;
  };

  test.each([false, true])('is found within a pixel and a half, dashed: %s', (isDashed) => {
    const found = followColour(drawn(isDashed), { x: 100, y: course(100) }, 90, whole);
    expect(found.length).toBeGreaterThan(isDashed ? 220 : 340);
    expect(found[0].x).toBeLessThan(25);
    expect(found.at(-1)!.x).toBeGreaterThan(370);
    for (const { x, y } of found) expect(Math.abs(y - course(x + 0.5))).toBeLessThan(2);
  });

  test('beside it nothing is followed, and a click near it finds it', () => {
    const picture = drawn();
    expect(followColour(picture, { x: 500, y: 10 }, 90, whole)).toEqual([]);
    const near = darkestNear(picture, { x: 300, y: course(300) + 4 }, 6);
    expect(Math.abs(near.y - course(near.x))).toBeLessThan(4);
    const off = darkestNear(picture, { x: 15, y: 280 }, 3);
    expect(followColour(picture, off, 90, { ...whole, right: -1 })).toEqual([]);
  });

  test('a column of that colour from top to bottom is no curve', () => {
    const { picture, dot } = paper(400, 300);
    for (let x = 20; x < 380; x++) for (const off of [0, 1]) dot(x, 100 + off, blue);
    for (let y = 0; y < 300; y++) dot(200, y, blue);
    const found = followColour(picture, { x: 60, y: 100 }, 60, whole);
    expect(Math.max(...found.map(({ y }) => y))).toBeLessThan(102);
    expect(found.at(-1)!.x).toBe(379);
  });
});

test('a trace becomes a table that says where it is from; too little of it is refused', () => {
  const axes = axesOf(across, up);
  const points = Array.from({ length: 150 }, (_, k) => ({ x: 120 + k, y: 180 }));
  const table = tracedTable(axes, points, 'response', 'sheet\nof paper.png');
  const lines = table.trim().split('\n');
  expect(lines.slice(0, 2)).toEqual(['* traced from sheet of paper.png', '* Freq(Hz)\tSPL(dB)']);
  expect(lines.length).toBeGreaterThan(100);
  for (const line of lines.slice(2)) expect(Number(line.split('\t')[1])).toBeCloseTo(80, 2);
  expect(() => tracedTable(axes, points.slice(0, 3), 'response', 'a.png')).toThrow(
    /Only \d points/,
  );
  const below = tracedTable(axes, [...points, { x: 200, y: 400 }], 'response', 'a.png');
  expect(below.split('\n').length).toBe(table.split('\n').length);
});
