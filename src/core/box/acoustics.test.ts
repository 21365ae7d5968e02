/** What is behind a cone, against the closed forms of textbooks (Beranek, Acoustics; Small 1972–74). */
import {
  createBox,
  createLine,
  createOpenBaffle,
  divide,
  passiveBranch,
  type Complex,
} from './acoustics';
import { portAreaM2, portMass, tuningHz, usualAir, type PipeSegment, type Port } from './enclosure';

const air = usualAir;
const { density, speedOfSound } = air;
const omegaOf = (hz: number) => 2 * Math.PI * hz;
const frequencies = [12, 30, 47, 80, 150, 333, 720];
const plus = (a: Complex, b: Complex): Complex => ({ re: a.re + b.re, im: a.im + b.im });
const times = (a: Complex, b: Complex): Complex => ({
  re: a.re * b.re - a.im * b.im,
  im: a.re * b.im + a.im * b.re,
});
const over = (a: Complex, b: Complex): Complex => {
  const out = { re: 0, im: 0 };
  divide(a, b, out);
  return out;
};
/** As near as one part in so many of the size. */
function expectNear(found: Complex, expected: Complex, share = 1e-9): void {
  const size = Math.hypot(expected.re, expected.im);
  expect(Math.hypot(found.re - expected.re, found.im - expected.im) / size).toBeLessThan(share);
}

const lossless = { ql: null, qa: null };
const volumeM3 = 0.05;
const compliance = volumeM3 / (density * speedOfSound ** 2);
const port: Port = {
  ...{ count: 1, shape: 'round', diameterM: 0.07, flareM: 0, lengthM: 0.12 },
  ...{ ends: ['free', 'flanged'], qp: null },
};

describe('a sealed box', () => {
  test('without losses is a spring: 1/(jωC)', () => {
    const box = createBox({ kind: 'sealed', volumeM3, ...lossless }, air, 1, omegaOf(30));
    for (const hz of frequencies) {
      box.at(omegaOf(hz));
      expectNear(box.load, { re: 0, im: -1 / (omegaOf(hz) * compliance) });
      expect(Math.hypot(box.opening.re, box.opening.im)).toBe(0);
    }
  });

  test('absorption and leakage at its resonance are what their Q say', () => {
    const alpha = 2;
    const omegaC = omegaOf(30) * Math.sqrt(1 + alpha);
    const [ql, qa] = [9, 25];
    const box = createBox({ kind: 'sealed', volumeM3, ql, qa }, air, alpha, omegaOf(30));
    box.at(omegaC);
    // A resistance of 1/(Qa·ωc·C) in series with the spring, and Ql/(ωc·C) beside both.
    const spring = { re: 1 / (qa * omegaC * compliance), im: -1 / (omegaC * compliance) };
    const leak = { re: ql / (omegaC * compliance), im: 0 };
    expectNear(box.load, over(times(spring, leak), plus(spring, leak)));
    expect(box.all.re).toBeLessThan(0);
  });
});

describe('a vented box', () => {
  const enclosure = { kind: 'vented', volumeM3, port, ...lossless } as const;

  test('below its tuning the load is the port’s mass, above it the spring', () => {
    const box = createBox(enclosure, air, 1, omegaOf(30));
    const tuned = tuningHz(volumeM3, port, air);
    box.at(omegaOf(tuned / 20));
    expectNear(box.load, { re: 0, im: omegaOf(tuned / 20) * portMass(port, air) }, 3e-3);
    box.at(omegaOf(tuned * 20));
    expectNear(box.load, { re: 0, im: -1 / (omegaOf(tuned * 20) * compliance) }, 3e-3);
    expect(box.openingAreaM2).toBeCloseTo(portAreaM2(port), 12);
  });

  test('well below its tuning the port gives back what the cone pushes, in opposite sense', () => {
    const box = createBox(enclosure, air, 1, omegaOf(30));
    box.at(omegaOf(1));
    expect(box.opening.re).toBeCloseTo(-1, 2);
    // Well above, the mass of its air holds it: 1/(ω²MC) of the cone’s flow, in the same sense.
    const hz = 500;
    box.at(omegaOf(hz));
    const ratio = (tuningHz(volumeM3, port, air) / hz) ** 2;
    expect(box.opening.re / (ratio / (1 - ratio))).toBeCloseTo(1, 3);
  });

  test('at its tuning the losses bear the whole: Ql/(ωb·C)', () => {
    const omegaB = omegaOf(tuningHz(volumeM3, port, air));
    const box = createBox({ ...enclosure, ql: 7 }, air, 1, omegaOf(30));
    box.at(omegaB);
    expectNear(box.load, { re: 7 / (omegaB * compliance), im: 0 }, 1e-6);
  });

  test('a port that loses as much as its Q says has that resistance', () => {
    const omegaB = omegaOf(tuningHz(volumeM3, port, air));
    const lossy = { ...enclosure, port: { ...port, qp: 40 } };
    const box = createBox(lossy, air, 1, omegaOf(30));
    box.at(omegaB);
    // Spring and port beside each other at resonance: (ωM)² over its resistance, nearly.
    const mass = portMass(port, air);
    expect(box.load.re / ((omegaB * mass * 40) / 1)).toBeCloseTo(1, 2);
  });
});

describe('a passive radiator', () => {
  const passive = {
    ...{ fsHz: 24, qms: 9, vasM3: 0.11, sdM2: 0.034, addedMassKg: 0.02, count: 2 },
  };

  test('as one branch: masses side by side halve, springs side by side add up', () => {
    const two = passiveBranch(passive, air);
    const one = passiveBranch({ ...passive, count: 1 }, air);
    expect(two.mass).toBeCloseTo(one.mass / 2, 12);
    expect(two.compliance).toBeCloseTo(one.compliance * 2, 18);
    expect(two.resistance).toBeCloseTo(one.resistance / 2, 9);
    // Without added mass it resonates where its sheet says.
    const bare = passiveBranch({ ...passive, addedMassKg: 0 }, air);
    expect(1 / Math.sqrt(bare.mass * bare.compliance) / omegaOf(1)).toBeCloseTo(24, 9);
  });

  test('at its own resonance it shorts the box but for its losses', () => {
    const enclosure = { kind: 'passive-radiator', volumeM3, passive, ...lossless } as const;
    const box = createBox(enclosure, air, 1, omegaOf(30));
    const { mass, compliance: own, resistance } = passiveBranch(passive, air);
    const omega = 1 / Math.sqrt(mass * own);
    box.at(omega);
    const spring = { re: 0, im: -1 / (omega * compliance) };
    expectNear(
      box.load,
      over(times(spring, { re: resistance, im: 0 }), plus(spring, { re: resistance, im: 0 })),
    );
    // All that the cone moves goes through it.
    expect(Math.hypot(box.opening.re, box.opening.im)).toBeCloseTo(1, 2);
    expect(box.openingAreaM2).toBeCloseTo(0.068, 12);
  });
});

describe('a pipe', () => {
  const empty = (lengthM: number, areaM2 = 0.03): PipeSegment => ({
    ...{ lengthM, areaM2, flowResistivity: 0 },
  });
  const line = (
    segments: readonly PipeSegment[],
    driverAtM = 0,
    end: 'open' | 'closed' = 'closed',
  ) => createLine({ kind: 'line', segments: [...segments], driverAtM, end }, air);
  const cot = (x: number) => 1 / Math.tan(x);

  test('closed at the far end: −j·ρc/S·cot kL', () => {
    const pipe = line([empty(1.2)]);
    for (const hz of frequencies) {
      pipe.at(omegaOf(hz));
      const k = omegaOf(hz) / speedOfSound;
      expectNear(pipe.load, { re: 0, im: (-density * speedOfSound * cot(k * 1.2)) / 0.03 }, 1e-6);
    }
    expect(pipe.openingAreaM2).toBeNull();
  });

  test('short against the wave it is a volume', () => {
    const pipe = line([empty(0.2), empty(0.1, 0.06)]);
    pipe.at(omegaOf(5));
    const litres = 0.2 * 0.03 + 0.1 * 0.06;
    expectNear(
      pipe.load,
      { re: 0, im: (-density * speedOfSound ** 2) / (omegaOf(5) * litres) },
      1e-3,
    );
  });

  test('cut into pieces it is the same pipe, wherever the driver is', () => {
    for (const at of [0, 0.3, 0.4, 0.7, 1.2]) {
      const [whole, cut] = [
        line([{ ...empty(1.2), flowResistivity: 900 }], at, 'open'),
        line(
          [0.4, 0.05, 0.5, 0.25].map((m) => ({ ...empty(m), flowResistivity: 900 })),
          at,
          'open',
        ),
      ];
      for (const hz of frequencies) {
        whole.at(omegaOf(hz));
        cut.at(omegaOf(hz));
        expectNear(cut.load, whole.load);
        expectNear(cut.opening, whole.opening);
      }
    }
  });

  test('with the driver between two closed ends their admittances add up', () => {
    const pipe = line([empty(1.5)], 0.4);
    for (const hz of frequencies) {
      pipe.at(omegaOf(hz));
      const k = omegaOf(hz) / speedOfSound;
      const y = (0.03 / (density * speedOfSound)) * (Math.tan(0.4 * k) + Math.tan(1.1 * k));
      expectNear(pipe.load, { re: 0, im: -1 / y }, 1e-6);
    }
  });

  test('a step of area is carried through as the textbook has it', () => {
    // Z = Z1·(Zb + jZ1·tan kL1)/(Z1 + jZb·tan kL1), Zb of the closed second stretch.
    const pipe = line([empty(0.5, 0.04), empty(0.8, 0.012)]);
    for (const hz of frequencies) {
      pipe.at(omegaOf(hz));
      const k = omegaOf(hz) / speedOfSound;
      const [one, two] = [0.04, 0.012].map((area) => (density * speedOfSound) / area);
      const behind: Complex = { re: 0, im: -two * cot(k * 0.8) };
      const tan = Math.tan(k * 0.5);
      const expected = times(
        { re: one, im: 0 },
        over({ re: 0, im: behind.im + one * tan }, { re: one - behind.im * tan, im: 0 }),
      );
      expectNear(pipe.load, expected, 1e-6);
    }
  });

  test('open at the far end it is a mass low down, and turns round at a quarter wave', () => {
    const [lengthM, areaM2] = [1.6, 0.03];
    const pipe = line([empty(lengthM, areaM2)], 0, 'open');
    const radius = Math.sqrt(areaM2 / Math.PI);
    pipe.at(omegaOf(2));
    const mass = (density * (lengthM + 0.6133 * radius)) / areaM2;
    expectNear(pipe.load, { re: 0, im: omegaOf(2) * mass }, 2e-3);
    // The air at the mouth moves with the cone’s rear: outward as the cone moves inward.
    expect(pipe.opening.re).toBeCloseTo(-1, 2);
    const quarter = speedOfSound / (4 * (lengthM + 0.6133 * radius));
    pipe.at(omegaOf(quarter * 0.97));
    const below = pipe.load.im;
    pipe.at(omegaOf(quarter * 1.03));
    expect(below).toBeGreaterThan(0);
    expect(pipe.load.im).toBeLessThan(0);
  });

  test('a driver a third along does not drive three quarters of a wave', () => {
    const [lengthM, areaM2] = [1.8, 1e-3];
    // The end’s mass and radiation hardly count for so thin a pipe.
    const radius = Math.sqrt(areaM2 / Math.PI);
    const whole = lengthM + 0.6133 * radius;
    const hz = (3 * speedOfSound) / (4 * whole);
    const [end, third] = [0, whole / 3].map((at) => {
      const pipe = line([empty(lengthM, areaM2)], at, 'open');
      pipe.at(omegaOf(hz));
      return Math.hypot(pipe.load.re, pipe.load.im);
    });
    expect(third / end).toBeLessThan(0.01);
  });

  test('densely lined and long it swallows all: the characteristic impedance is left', () => {
    const flowResistivity = 8000;
    const pipe = line([{ lengthM: 12, areaM2: 0.03, flowResistivity }]);
    for (const hz of [80, 200, 700]) {
      pipe.at(omegaOf(hz));
      // ρc/S·√(1 − jR/(ωρ)), of the root with positive real part.
      const loss = flowResistivity / (omegaOf(hz) * density);
      const size = Math.sqrt(Math.hypot(1, loss));
      const angle = -Math.atan(loss) / 2;
      const unit = (density * speedOfSound * size) / 0.03;
      expectNear(pipe.load, { re: unit * Math.cos(angle), im: unit * Math.sin(angle) }, 1e-3);
    }
  });

  test('without lining and mouth nothing is lost; with lining something is', () => {
    for (const hz of frequencies) {
      const [bare, lined] = [0, 1500].map((flowResistivity) => {
        const pipe = line([{ ...empty(1.1), flowResistivity }], 0.2);
        pipe.at(omegaOf(hz));
        return pipe.load.re;
      });
      expect(Math.abs(bare)).toBeLessThan(1e-6);
      expect(lined).toBeGreaterThan(0);
    }
  });
});

test('an open baffle: the rear comes round later and in opposite sense', () => {
  const baffle = createOpenBaffle(0.3, air);
  baffle.at(omegaOf(1e-3));
  expect(baffle.all.re).toBeCloseTo(-1, 9);
  // Half a wave later it is in phase with the front.
  baffle.at(omegaOf(speedOfSound / 0.6));
  expect(baffle.all.re).toBeCloseTo(1, 9);
  expect(baffle.all.im).toBeCloseTo(0, 9);
  // A quarter wave later it lags: −1·e^(−jπ/2) = j.
  baffle.at(omegaOf(speedOfSound / 1.2));
  expect(baffle.all.re).toBeCloseTo(0, 9);
  expect(baffle.all.im).toBeCloseTo(1, 9);
  expect(Math.hypot(baffle.load.re, baffle.load.im)).toBe(0);
});

test('fibre in a line holds the air at one temperature low down, and not high up', () => {
  const segments = (takesHeat: boolean) => [
    { lengthM: 0.4, areaM2: 0.05, flowResistivity: 2000, takesHeat },
  ];
  const springAt = (takesHeat: boolean, hz: number) => {
    const line = createLine(
      { kind: 'line', segments: segments(takesHeat), driverAtM: 0, end: 'closed' },
      air,
    );
    line.at(omegaOf(hz));
    // A spring pushes back with 1/(jωC).
    return -1 / (omegaOf(hz) * line.load.im);
  };
  // Isothermal air is as much softer as its heats are apart: 1.4.
  expect(springAt(true, 2) / springAt(false, 2)).toBeCloseTo(1.4, 2);
  expect(springAt(true, 150) / springAt(false, 150)).toBeLessThan(1.25);
});
