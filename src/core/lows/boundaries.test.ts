/** Images of a point source, against the closed forms of one wall and of a corner. */
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import type { Boundary } from '@/core/document/surroundingsSchema';
import { logGrid } from '@/core/grid/logGrid';
import { boundaryGainDb } from './boundaries';

const hz = logGrid(10, 500, 12);
const speedMm = 1000 * speedOfSoundMps(20);
const position = { xMm: 0, yMm: 0, zMm: 0 };
const gain = (
  boundaries: readonly Boundary[],
  { listeningDistanceMm = 2000, at = position, frequencyHz = hz } = {},
) =>
  boundaryGainDb(
    {
      surroundings: { boundaries: [...boundaries], pair: null },
      ...{ listeningDistanceMm, airTemperatureC: 20 },
    },
    { position: at },
    frequencyHz,
  );
const wall = (kind: Boundary['kind'], distanceMm: number, absorption = 0): Boundary => ({
  ...{ kind, distanceMm, absorption },
});

test('in a free field there is nothing to add', () => expect(gain([])).toBeNull());

test.each([300, 700, 1200])('a floor %d mm below: one image, later and weaker', (heightMm) => {
  const found = gain([wall('floor', heightMm)])!;
  const reflected = Math.hypot(2 * heightMm, 2000);
  hz.forEach((f, i) => {
    const angle = (-2 * Math.PI * f * (reflected - 2000)) / speedMm;
    const ratio = 2000 / reflected;
    const size = Math.hypot(1 + ratio * Math.cos(angle), ratio * Math.sin(angle));
    expect(found[i]).toBeCloseTo(20 * Math.log10(size), 9);
  });
});

test('half a wave of detour takes away, a whole one adds', () => {
  const behind = wall('front-wall', 1000);
  // The image is 2 m behind: the detour is 2 m whatever the distance.
  const [cancels, adds] = gain([behind], {
    listeningDistanceMm: 3000,
    frequencyHz: Float64Array.of(speedMm / 4000, speedMm / 2000),
  })!;
  expect(cancels).toBeCloseTo(20 * Math.log10(1 - 3 / 5), 6);
  expect(adds).toBeCloseTo(20 * Math.log10(1 + 3 / 5), 6);
});

test('against one wall and low down it is 6 dB, in an edge 12, in a corner 18', () => {
  const [floor, front, left] = [wall('floor', 1), wall('front-wall', 1), wall('left-wall', 1)];
  const at = (boundaries: readonly Boundary[]) =>
    gain(boundaries, { listeningDistanceMm: 50_000, frequencyHz: Float64Array.of(10) })![0];
  expect(at([floor])).toBeCloseTo(6.02, 2);
  expect(at([floor, front])).toBeCloseTo(12.04, 2);
  expect(at([floor, front, left])).toBeCloseTo(18.06, 2);
});

test('what a wall absorbs is missing: none of it, half of it, all of it', () => {
  const low = (absorption: number) =>
    gain([wall('floor', 1, absorption)], {
      listeningDistanceMm: 50_000,
      frequencyHz: Float64Array.of(10),
    })![0];
  expect(low(0)).toBeCloseTo(20 * Math.log10(2), 2);
  expect(low(0.5)).toBeCloseTo(20 * Math.log10(1 + Math.SQRT1_2), 2);
  expect(low(1)).toBeCloseTo(0, 9);
});

test('two walls that face each other make no corner: each has its image, and no more', () => {
  const [left, right] = [wall('left-wall', 900), wall('right-wall', 900)];
  const both = gain([left, right])!;
  const one = gain([left])!;
  hz.forEach((_, i) => {
    // The same detour on both sides: 1 + 2r against 1 + r, as complex numbers.
    const reflected = Math.hypot(1800, 2000);
    const angle = (-2 * Math.PI * hz[i] * (reflected - 2000)) / speedMm;
    const [re, im] = [Math.cos(angle), Math.sin(angle)].map((x) => (x * 2000) / reflected);
    expect(both[i]).toBeCloseTo(20 * Math.log10(Math.hypot(1 + 2 * re, 2 * im)), 9);
    expect(one[i]).toBeCloseTo(20 * Math.log10(Math.hypot(1 + re, im)), 9);
  });
});

test('the order in which walls are told makes no difference', () => {
  const all = [wall('floor', 800, 0.1), wall('front-wall', 500, 0.3), wall('right-wall', 1400)];
  const [a, b] = [gain(all)!, gain(all.toReversed())!];
  hz.forEach((_, i) => expect(a[i]).toBeCloseTo(b[i], 9));
});

test('a driver nearer to the floor fills its dip higher up', () => {
  const dip = (yMm: number) => {
    const found = gain([wall('floor', 800)], { at: { ...position, yMm } })!;
    return hz[found.indexOf(Math.min(...found))];
  };
  expect(dip(-400)).toBeGreaterThan(1.3 * dip(0));
});
