/**
 * Diffraction of two boxes against a boundary-element solution of the same (direct collocation with
 * CHIEF points after Schenck 1968, checked against exact spheres; its own error is about 0.1 dB).
 * Box 200 × 320 × 250 mm, sharp edges; O1: piston of 12 mm radius, 70 mm below the top; O2: 50 mm,
 * 200 mm below. Angles every 15°; far away and at 2 m; c = 343 m/s.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createBaffleDiffraction } from '@/core/baffle/diffraction/baffleDiffraction';
import { observerAt, type Plane } from '@/core/baffle/diffraction/observer';
import { createRim } from '@/core/baffle/diffraction/rim';
import { rectangle, sharpEdge } from '@/core/baffle/shape';
import { pistonDirectivity } from '@/core/radiation/piston';

interface Row {
  readonly hz: number;
  readonly plane: Plane;
  readonly angleDeg: number;
  readonly db: number;
  readonly phaseDeg: number;
}

function rowsOf(name: string): Row[] {
  const text = readFileSync(join(import.meta.dirname, 'diffraction', `${name}.csv`), 'utf8');
  return text
    .trim()
    .split('\n')
    .slice(1)
    .map((line) => {
      const [hz, plane, angleDeg, db, phaseDeg] = line.split(',');
      return {
        ...{ hz: Number(hz), plane: plane.toUpperCase() as Plane, angleDeg: Number(angleDeg) },
        ...{ db: Number(db), phaseDeg: Number(phaseDeg) },
      };
    });
}

const sources = {
  O1: { x: 0.1, y: 0.25, radiusM: 0.012 },
  O2: { x: 0.1, y: 0.12, radiusM: 0.05 },
};

test.each([
  ['O1', 'far'],
  ['O1', '2m'],
  ['O2', 'far'],
  ['O2', '2m'],
] as const)('%s %s', (name, from) => {
  const rows = rowsOf(`${name}_${from}`);
  const frequencyHz = Float64Array.from(new Set(rows.map(({ hz }) => hz)));
  const source = sources[name];
  const shaped = createBaffleDiffraction(
    { outline: rectangle(0.2, 0.32), edges: [sharpEdge, sharpEdge, sharpEdge, sharpEdge], depthM: 0.25 },
    source,
    frequencyHz,
    343,
  );
  const strongest = new Map<number, number>();
  for (const { hz, db } of rows) strongest.set(hz, Math.max(db, strongest.get(hz) ?? -Infinity));
  const byAngle = new Map<string, Row[]>();
  for (const row of rows) {
    const key = `${row.plane} ${row.angleDeg}`;
    byAngle.set(key, [...(byAngle.get(key) ?? []), row]);
  }
  const [front, behind, phases]: number[][] = [[], [], []];
  for (const own of byAngle.values()) {
    const [{ plane, angleDeg }] = own;
    const { re, im } = shaped.toward(
      observerAt(source, plane, angleDeg, from === 'far' ? 'far' : 2),
    );
    own.forEach(({ hz, db, phaseDeg }, i) => {
      const under = strongest.get(hz)! - db;
      const off = Math.abs(20 * Math.log10(Math.hypot(re[i], im[i])) - db);
      const turned = (Math.atan2(im[i], re[i]) * 180) / Math.PI - phaseDeg;
      // Where next to nothing is heard, decibels say nothing.
      if (Math.abs(angleDeg) <= 75 && under < 20) {
        front.push(off);
        phases.push(Math.abs(turned - 360 * Math.round(turned / 360)));
      }
      if (Math.abs(angleDeg) > 90 && under < 10) behind.push(off);
    });
  }
  const mean = (all: readonly number[]) => all.reduce((sum, one) => sum + one, 0) / all.length;
  expect(front.length).toBeGreaterThan(800);
  expect(mean(front)).toBeLessThan(0.09);
  expect(Math.max(...front)).toBeLessThan(0.5);
  expect(Math.max(...phases)).toBeLessThan(6);
  expect(behind.length).toBeGreaterThan(100);
  expect(mean(behind)).toBeLessThan(0.2);
  expect(Math.max(...behind)).toBeLessThan(0.8);
});

interface Level {
  readonly label: string;
  readonly hz: number;
  readonly deg: number;
  readonly db: number;
}

/** Rows of what `axisymmetric.py` made. */
const levelsIn = (name: string): Level[] =>
  readFileSync(join(import.meta.dirname, 'diffraction', `${name}.csv`), 'utf8')
    .trim()
    .split('\n')
    .slice(1)
    .map((line) => {
      const [label, hz, deg, db] = line.split(',');
      return { label, hz: Number(hz), deg: Number(deg), db: Number(db) };
    });

const farAt = (deg: number) => {
  const angle = (deg * Math.PI) / 180;
  return { kind: 'far', direction: { x: Math.sin(angle), y: 0, z: Math.cos(angle) } } as const;
};

test.each(['2', '4'])('a frame that stands %s mm proud on a wall', (label) => {
  const off = [0, 30, 60].flatMap((deg) => {
    const own = levelsIn('proud').filter((row) => row.label === label && row.deg === deg);
    const frequencyHz = Float64Array.from(own, ({ hz }) => hz);
    const source = { x: 0, y: 0, radiusM: 0.0125 };
    const step = { radiusM: 0.052, heightM: Number(label) / 1000 };
    const { re, im } = createRim(step, source, frequencyHz, 343.2).toward(farAt(deg));
    return own.map(({ hz, db }, i) => {
      const k = (2 * Math.PI * hz) / 343.2;
      const direct = pistonDirectivity(k * source.radiusM * Math.sin((deg * Math.PI) / 180));
      return Math.abs(20 * Math.log10(Math.hypot(direct + re[i], im[i])) - db);
    });
  });
  expect(off).toHaveLength(39);
  expect(off.reduce((sum, one) => sum + one, 0) / off.length).toBeLessThan(0.3);
  expect(Math.max(...off)).toBeLessThan(0.7);
});

test.each(['sharp', 'round', 'chamfer'] as const)(
  'a cylinder whose rim is %s, its driver in the middle',
  (kind) => {
    // A polygon of the circle’s area.
    const sides = 24;
    const turn = (2 * Math.PI) / sides;
    const reach = 0.12 * Math.sqrt(turn / Math.sin(turn));
    const outline = Array.from({ length: sides }, (_, k) => ({
      x: reach * Math.cos(k * turn),
      y: reach * Math.sin(k * turn),
    }));
    const edge = { kind, sizeM: kind === 'sharp' ? 0 : 0.02 };
    const all = levelsIn('rim').filter(({ label }) => label === kind);
    const frequencyHz = Float64Array.from(new Set(all.map(({ hz }) => hz)));
    const body = createBaffleDiffraction(
      { outline, edges: outline.map(() => edge), depthM: 0.2 },
      { x: 0, y: 0, radiusM: 0.0125 },
      frequencyHz,
      343.2,
    );
    const off = [0, 30, 60].flatMap((deg) => {
      const { re, im } = body.toward(farAt(deg));
      return all
        .filter((row) => row.deg === deg)
        .map(({ db }, i) => Math.abs(20 * Math.log10(Math.hypot(re[i], im[i])) - db));
    });
    expect(off).toHaveLength(42);
    expect(off.reduce((sum, one) => sum + one, 0) / off.length).toBeLessThan(0.22);
    // Sharp it is 0.4 dB too loud at 600 Hz, where all of its edge is in phase; treated that adds.
    expect(Math.max(...off)).toBeLessThan(kind === 'sharp' ? 0.55 : 0.8);
  },
);

test.each([20, 40])('what rounding a rim by %i mm changes below 500 Hz', (radiusMm) => {
  const sides = 24;
  const turn = (2 * Math.PI) / sides;
  const reach = 0.12 * Math.sqrt(turn / Math.sin(turn));
  const outline = Array.from({ length: sides }, (_, k) => ({
    x: reach * Math.cos(k * turn),
    y: reach * Math.sin(k * turn),
  }));
  const all = levelsIn('blunt').filter(({ deg }) => deg === 0);
  const frequencyHz = Float64Array.from(new Set(all.map(({ hz }) => hz)));
  const levelsOf = (sizeM: number) => {
    const edge = { kind: sizeM === 0 ? 'sharp' : 'round', sizeM } as const;
    const { re, im } = createBaffleDiffraction(
      { outline, edges: outline.map(() => edge), depthM: 0.2 },
      { x: 0, y: 0, radiusM: 0.0125 },
      frequencyHz,
      343.2,
    ).toward(farAt(0));
    return re.map((x, i) => 20 * Math.log10(Math.hypot(x, im[i])));
  };
  const [sharp, rounded] = [0, radiusMm / 1000].map(levelsOf);
  const of = (label: number) => all.filter((row) => Number(row.label) === label).map(({ db }) => db);
  const [sharpDb, roundedDb] = [0, radiusMm].map(of);
  frequencyHz.forEach((hz, i) =>
    expect([hz, Math.abs(rounded[i] - sharp[i] - roundedDb[i] + sharpDb[i]) < 0.12]).toEqual([
      hz,
      true,
    ]),
  );
});
