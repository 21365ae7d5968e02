/**
 * Averages over the sphere, directivity and lobing against numbers made elsewhere: see
 * cta2034/SOURCE.md, sum/SOURCE.md, piston/SOURCE.md.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { logGrid } from '@/core/grid/logGrid';
import { spinCurvesOf, spinDirections, spinWeights } from '@/core/radiation/cta2034';
import { betweenOrbits, fromDriver, headingOf } from '@/core/radiation/direction';
import { energyFormOf, energyGradientOf, energyOf } from '@/core/radiation/energyForm';
import { createOrbits } from '@/core/radiation/orbit';
import { pistonDirectivity, pistonDirectivityIndexDb } from '@/core/radiation/piston';
import { sphereWeights } from '@/core/radiation/sphere';
import { pathToMm, pointAtMm } from '@/core/radiation/path';
import { seededRandom } from '../fixtures';

function csv(file: string): { header: string[]; rows: number[][] } {
  const text = readFileSync(join(import.meta.dirname, file), 'utf8').trim();
  const [header, ...rows] = text.split('\n');
  return { header: header.split(','), rows: rows.map((row) => row.split(',').map((cell) => (cell === '' ? NaN : Number(cell)))),
  };
}

describe('averages after ANSI/CTA-2034-A', () => {
  const { header, rows } = csv('cta2034/responses.csv');
  const expected = csv('cta2034/curves.csv');
  const levels = spinDirections.map(({ plane, degrees }) => {
    const column = header.indexOf(`${plane[0]}_${degrees}`);
    return Float64Array.from(rows, (row) => row[column]);
  });
  const curves = spinCurvesOf(levels);

  test.each([
    ['on_axis', curves.onAxis],
    ['listening_window', curves.listeningWindow],
    ['floor_bounce', curves.floor],
    ['ceiling_bounce', curves.ceiling],
    ['front_wall', curves.frontWall],
    ['side_wall', curves.sideWall],
    ['rear_wall', curves.rearWall],
    ['early_reflections', curves.earlyReflections],
    ['sound_power', curves.soundPower],
    ['sound_power_di', curves.soundPowerIndex],
    ['early_reflections_di', curves.earlyReflectionsIndex],
    ['predicted_in_room', curves.inRoom],
  ])('%s within 1e-6 dB', (name, found) => {
    const column = expected.header.indexOf(name);
    expect(expected.rows).toHaveLength(120);
    const worst = expected.rows.reduce(
      (most, row, i) => Math.max(most, Math.abs(found[i] - row[column])),
      0,
    );
    expect(worst).toBeLessThan(1e-6);
  });

  test('weights of every mean add up to 1', () => {
    for (const weights of Object.values(spinWeights))
      expect(weights.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1, 12);
  });
});

/** Directivity index over the sphere of something with this level by the angle off its axis, dB. */
function indexOf(level: (radians: number) => number): number {
  const energy = spinDirections.reduce(
    (sum, { degrees }, d) => sum + sphereWeights[d] * level((degrees * Math.PI) / 180) ** 2,
    0,
  );
  return -10 * Math.log10(energy);
}

describe('directivity index', () => {
  test('of a monopole is 0 dB', () => {
    expect(Math.abs(indexOf(() => 1))).toBeLessThan(1e-9);
    expect(sphereWeights.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1, 12);
  });

  test('of a dipole is 4.77 dB (10·log 3), of a cardioid too', () => {
    expect(Math.abs(indexOf(Math.cos) - 10 * Math.log10(3))).toBeLessThan(1e-9);
    expect(Math.abs(indexOf((angle) => (1 + Math.cos(angle)) / 2) - 4.771)).toBeLessThan(1e-3);
  });

  test.each([0.5, 1, 2, 3, 5, 8])('of a piston in a wall is the closed form, ka %d', (ka) => {
    // Both sides alike: half of what a wall keeps from the rear.
    const twoSided = indexOf((angle) => pistonDirectivity(ka * Math.sin(angle)));
    const inWall = pistonDirectivityIndexDb(ka) - 10 * Math.log10(2);
    expect(Math.abs(twoSided - inWall)).toBeLessThan(ka > 5 ? 1e-4 : 1e-6);
  });

  test('of a piston in a wall agrees with the table to 1e-6 dB', () => {
    const { header, rows } = csv('piston/radiation_impedance_and_di.csv');
    const [ka, di] = ['ka', 'DI_db'].map((name) => header.indexOf(name));
    const checked = rows.filter((row) => row[ka] <= 20);
    expect(checked.length).toBeGreaterThan(40);
    // Under ka 0.1 the formula takes the difference of numbers that are nearly alike.
    for (const row of checked.filter((one) => one[ka] > 0.1))
      expect(Math.abs(pistonDirectivityIndexDb(row[ka]) - row[di])).toBeLessThan(1e-6);
  });
});

describe('sums of sources in every direction', () => {
  interface Case {
    case: string;
    src: { name: string; xyz: [number, number, number]; radius_m?: number }[];
  }
  const { cases } = JSON.parse(
    readFileSync(join(import.meta.dirname, 'sum/cases.json'), 'utf8'),
  ) as { cases: Case[] };
  const speedMmPerS = 343_200;

  const each = cases.flatMap((one) =>
    (['1m', '2m', 'far'] as const).flatMap((distance) =>
      (['h', 'v'] as const).map((plane) => ({ ...one, distance, plane })),
    ),
  );

  test.each(each)('$case at $distance, $plane: within 0.001 dB', ({ case: name, src, ...at }) => {
    const { header, rows } = csv(`sum/${name}_${at.distance}_${at.plane}.csv`);
    const filters = csv(`sum/${name}_filters.csv`).rows;
    const distanceMm = at.distance === 'far' ? 1e9 : Number(at.distance[0]) * 1000;
    const plane = at.plane === 'h' ? 'horizontal' : 'vertical';
    let compared = 0;
    header.slice(1).forEach((text, a) => {
      const heading = headingOf({ plane, degrees: Number(text) });
      const point = pointAtMm(heading, distanceMm);
      rows.forEach((row, i) => {
        const expected = row[a + 1];
        // What is weaker than −60 dB hangs on the last digits of the filters.
        if (Number.isNaN(expected) || expected < -60) return;
        let [re, im] = [0, 0];
        for (const [s, { xyz, radius_m }] of src.entries()) {
          const [xMm, yMm, zMm] = xyz.map((metres) => 1000 * metres);
          const pathMm = pathToMm({ xMm, yMm, zMm }, point);
          const seen = betweenOrbits({
            x: point.xMm - xMm,
            y: point.yMm - yMm,
            z: point.zMm - zMm,
          });
          const k = (2 * Math.PI * row[0]) / speedMmPerS;
          const beam =
            radius_m === undefined
              ? 1
              : pistonDirectivity(1000 * k * radius_m * Math.sin((seen.offDeg * Math.PI) / 180));
          const size = (beam * distanceMm) / pathMm;
          const angle = -k * (pathMm - distanceMm);
          const [fRe, fIm] = filters[i].slice(1 + 2 * s, 3 + 2 * s);
          re += size * (fRe * Math.cos(angle) - fIm * Math.sin(angle));
          im += size * (fRe * Math.sin(angle) + fIm * Math.cos(angle));
        }
        compared++;
        expect(Math.abs(20 * Math.log10(Math.hypot(re, im)) - expected)).toBeLessThan(0.001);
      });
    });
    expect(compared).toBeGreaterThan(500);
  });
});

test('what a driver that points elsewhere sees is turned with it', () => {
  const aim = { yawDeg: 90, pitchDeg: 0 };
  const seen = fromDriver(aim, headingOf({ plane: 'horizontal', degrees: 90 }));
  expect(seen.z).toBeCloseTo(1, 12);
  const up = fromDriver({ yawDeg: 40, pitchDeg: 30 }, { x: 0, y: 1, z: 0 });
  expect(Math.hypot(up.x, up.y, up.z)).toBeCloseTo(1, 12);
  expect(up.z).toBeCloseTo(0.5, 12);
  const axis = {
    x: Math.sin((40 * Math.PI) / 180) * Math.cos(Math.PI / 6),
    y: 0.5,
    z: Math.cos((40 * Math.PI) / 180) * Math.cos(Math.PI / 6),
  };
  expect(fromDriver({ yawDeg: 40, pitchDeg: 30 }, axis).z).toBeCloseTo(1, 12);
});

test('a mean energy as a quadratic form is the sum over the directions, with its exact slopes', () => {
  const random = seededRandom(5);
  const [voices, directions, points] = [3, 11, 4];
  const spectrum = () => ({
    re: Float64Array.from({ length: points }, () => random() - 0.5),
    im: Float64Array.from({ length: points }, () => random() - 0.5),
  });
  const sent = Array.from({ length: voices }, () => Array.from({ length: directions }, spectrum));
  const weights = Float64Array.from({ length: directions }, random);
  const signs = [1, -1, 1];
  const form = energyFormOf(sent, weights, points);
  const volts = Array.from({ length: voices }, spectrum);
  const directly = (v: typeof volts, i: number) =>
    weights.reduce((sum, weight, d) => {
      let [re, im] = [0, 0];
      sent.forEach((row, a) => {
        re += signs[a] * (row[d].re[i] * v[a].re[i] - row[d].im[i] * v[a].im[i]);
        im += signs[a] * (row[d].re[i] * v[a].im[i] + row[d].im[i] * v[a].re[i]);
      });
      return sum + weight * (re * re + im * im);
    }, 0);
  const energy = new Float64Array(points);
  energyOf(form, volts, signs, energy);
  const gradient = volts.map(() => ({ re: new Float64Array(points), im: new Float64Array(points) }));
  energyGradientOf(form, volts, signs, gradient);
  const step = 1e-6;
  for (let i = 0; i < points; i++) {
    expect(energy[i]).toBeCloseTo(directly(volts, i), 12);
    for (let a = 0; a < voices; a++)
      for (const part of ['re', 'im'] as const) {
        const moved = [step, -step].map((by) =>
          directly(
            volts.map((one, v) =>
              v === a ? { ...one, [part]: one[part].with(i, one[part][i] + by) } : one,
            ),
            i,
          ),
        );
        expect(2 * gradient[a][part][i]).toBeCloseTo((moved[0] - moved[1]) / (2 * step), 7);
      }
  }
});

/** Largest error of a piston with a delay, between angles that were measured at a step. */
function worstBetween(stepDeg: number, ka: number): number {
  const frequencies = logGrid(100, 10_000, 3);
  const at = (degrees: number) => {
    const size = pistonDirectivity(ka * Math.sin((degrees * Math.PI) / 180));
    return {
      direction: { plane: 'horizontal', degrees } as const,
      levelDb: frequencies.map(() => 20 * Math.log10(Math.abs(size))),
      phase: frequencies.map(() => (degrees * degrees) / 3000),
      isTimed: true,
    };
  };
  const steps = Array.from({ length: Math.floor(90 / stepDeg) }, (_, k) => stepDeg * (k + 1));
  const orbits = createOrbits(steps.map(at), frequencies.length);
  let worst = 0;
  for (let degrees = 1; degrees <= steps.at(-1)!; degrees++) {
    const found = orbits.toward({ plane: 'horizontal', degrees })!;
    const exact = at(degrees);
    worst = Math.max(worst, Math.abs(found.levelDb[0] - exact.levelDb[0]));
    expect(Math.abs(found.phase[0] - exact.phase[0])).toBeLessThan(0.02 * (stepDeg / 10));
  }
  return worst;
}

test.each([
  // Gap between measured angles, and the worst level between them, without and with a null.
  { stepDeg: 5, smooth: 0.02, beyond: 0.2 },
  { stepDeg: 10, smooth: 0.05, beyond: 1 },
  { stepDeg: 15, smooth: 0.15, beyond: 2 },
  { stepDeg: 30, smooth: 0.5, beyond: 5 },
])('angles left out at steps of $stepDeg° come back', ({ stepDeg, smooth, beyond }) => {
  expect(worstBetween(stepDeg, 2)).toBeLessThan(smooth);
  expect(worstBetween(stepDeg, 3.3)).toBeLessThan(beyond);
});
