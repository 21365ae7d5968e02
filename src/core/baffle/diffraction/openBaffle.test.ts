import { rectangle, sharpEdge, type BaffleShape } from '@/core/baffle/shape';
import { logGrid } from '@/core/grid/logGrid';
import { createOpenBaffle } from './openBaffle';
import { solvePanel } from './panelSolution';
import type { Observer, Spectrum } from './sending';

const c = 343.2;
const toward = (degrees: number): Observer => {
  const angle = (degrees * Math.PI) / 180;
  return { kind: 'far', direction: { x: Math.sin(angle), y: 0, z: Math.cos(angle) } };
};
const levels = ({ re, im }: Spectrum) =>
  re.map((value, i) => 20 * Math.log10(Math.hypot(value, im[i])));
const phases = ({ re, im }: Spectrum) => re.map((value, i) => Math.atan2(im[i], value));

const disc = (radius: number, corners: number) =>
  Array.from({ length: corners }, (_, k) => {
    const angle = (2 * Math.PI * k) / corners;
    return { x: radius * Math.cos(angle), y: radius * Math.sin(angle) };
  });

test('a disc that is small against the wave is the dipole that theory has it to be', () => {
  // A still disc in a slow wave has the jump (4/π)·jk·cos θ·√(b² − ρ²) (Lamb, Hydrodynamics, 1932,
  // art. 102 and 108; Sommerfeld); half of it at ρ is what a piston there sends.
  const b = 0.2;
  const hz = Float64Array.of(15, 30, 60);
  const panel = solvePanel(disc(b, 64), hz, c);
  for (const degrees of [0, 60, 180])
    for (const rho of [0, 0.5 * b]) {
      const found = panel.toward({ x: 0, y: rho }, toward(degrees));
      const cosine = Math.cos((degrees * Math.PI) / 180);
      hz.forEach((one, i) => {
        const k = (2 * Math.PI * one) / c;
        const exact = (2 / Math.PI) * k * Math.sqrt(b * b - rho * rho) * Math.abs(cosine);
        expect(Math.abs(levels(found)[i] - 20 * Math.log10(exact))).toBeLessThan(0.45);
        expect(Math.abs(phases(found)[i] - (Math.sign(cosine) * Math.PI) / 2)).toBeLessThan(0.1);
      });
    }
});

const shape: BaffleShape = {
  outline: rectangle(0.3, 0.45),
  edges: [sharpEdge, sharpEdge, sharpEdge, sharpEdge],
  depthM: 0.012,
};
const source = { x: 0.17, y: 0.3, radiusM: 0.02 };

test('what is followed over edges and what the panel solves meet without a step', () => {
  const grid = logGrid(100, 4000, 24);
  const whole = createOpenBaffle(shape, source, grid, c);
  const solved = solvePanel(shape.outline, grid, c);
  const meeting = [...grid.keys()].filter((i) => grid[i] > 800 && grid[i] < 1500);
  for (const degrees of [0, 30]) {
    const [a, b] = [whole, { toward: (o: Observer) => solved.toward(source, o) }].map((one) =>
      levels(one.toward(toward(degrees))),
    );
    // Two unlike methods: an integral equation, and sound followed over edges.
    for (const i of meeting) expect(Math.abs(a[i] - b[i])).toBeLessThan(1);
  }
});

test('front and rear are alike in opposite polarity; low down it falls by 6 dB an octave', () => {
  const grid = logGrid(20, 160, 1);
  const thin = { ...shape, depthM: 0.001 };
  const baffle = createOpenBaffle(thin, source, grid, c);
  const [front, rear] = [0, 180].map((degrees) => baffle.toward(toward(degrees)));
  front.re.forEach((re, i) => {
    expect(Math.hypot(re + rear.re[i], front.im[i] + rear.im[i])).toBeLessThan(
      0.03 * Math.hypot(re, front.im[i]),
    );
  });
  const db = levels(front);
  expect(db[1] - db[0]).toBeCloseTo(6.02, 1);
  expect(db[2] - db[1]).toBeCloseTo(6.02, 1);
  // Edge-on nothing is heard of a dipole.
  const beside = levels(baffle.toward(toward(90)));
  beside.forEach((level, i) => expect(level).toBeLessThan(db[i] - 25));
});

test('high up it is the piston in a wall', () => {
  const grid = logGrid(9000, 18_000, 6);
  const baffle = createOpenBaffle(shape, source, grid, c);
  levels(baffle.toward(toward(0))).forEach((db) => expect(Math.abs(db)).toBeLessThan(1.2));
});

test('from far away is what from very far away is, however the axis lies', () => {
  const grid = logGrid(40, 800, 3);
  const baffle = createOpenBaffle(shape, source, grid, c);
  const far = levels(baffle.toward(toward(0)));
  const distant = levels(
    baffle.toward({ kind: 'point', at: { x: source.x, y: source.y, z: 500 } }),
  );
  far.forEach((db, i) => expect(Math.abs(db - distant[i])).toBeLessThan(0.1));
});
