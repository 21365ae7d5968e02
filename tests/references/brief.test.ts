/**
 * The brief's arithmetic against figures and formulae from outside, each with its source.
 */
import {
  closedBoxEfficiency,
  closedBoxLitres,
  closedBoxF3Hz,
  leastOhms,
  levelOfExcursionDb,
  realBoxShare,
  seatGainsDb,
  seatLevelDb,
  sourceSwingDb,
  wattsForLevel,
} from '@/core/brief/arithmetic';
import {
  efficiencyForLevel,
  levelForEfficiencyDb,
  referenceEfficiency,
} from '@/core/driver/efficiency';
import { equivalentOhms, sourceLossDb } from '@/core/prediction/figures';

describe('efficiency', () => {
  // Small, "Closed-Box Loudspeaker Systems", J. Audio Eng. Soc. 20–21 (1972–73): the greatest
  // efficiency constant of a closed box is 2.0·10⁻⁶ (f₃ in Hz, V in m³), reached near Q = 1.1;
  // Butterworth (Q = 1/√2) has 1.4·10⁻⁶.
  test('the closed box at its best has Small’s 2.0·10⁻⁶, and no Q does better', () => {
    const constant = (q: number) => closedBoxEfficiency(1, 1000, q);
    expect(constant(1.1)).toBeCloseTo(2.0e-6, 7);
    expect(constant(Math.SQRT1_2)).toBeCloseTo(1.4e-6, 7);
    for (let q = 0.5; q < 2; q += 0.05) expect(constant(q)).toBeLessThan(1.01 * constant(1.1));
  });

  // Small 1972: 112 dB at 1 m for 1 W at 100 % in half space.
  test('a driver without losses gives 112.1 dB for 1 W at 1 m, to a tenth', () => {
    expect(Math.abs(levelForEfficiencyDb(1) - 112.1)).toBeLessThan(0.1);
    expect(efficiencyForLevel(levelForEfficiencyDb(0.005))).toBeCloseTo(0.005, 12);
  });

  // The same closed form in other units: η₀ in per cent = 9.64·10⁻⁸·fs³·Vas/Qes with Vas in litres
  // (handbook figure; c = 344 m/s).
  test.each([
    [28, 115, 0.41],
    [45, 30, 0.35],
    [60, 12, 0.6],
  ])('η₀ of fs %d Hz, Vas %d l, Qes %d', (fs, vas, qes) => {
    const percent = (9.64e-8 * fs ** 3 * vas) / qes;
    expect((100 * referenceEfficiency(fs, vas, qes)) / percent).toBeCloseTo(1, 1);
    expect(Math.abs((100 * referenceEfficiency(fs, vas, qes)) / percent - 1)).toBeLessThan(0.015);
  });

  // From η₀ with α and Qmc, worked out anew with the box's own figures: fs, Vas, Qes of a driver
  // that makes Qtc.
  test.each([
    [1.1, 2, -3.16],
    [1.1, 4, -2.37],
    [Math.SQRT1_2, 2, -2.61],
    [Math.SQRT1_2, 4, -1.81],
  ])('a real box of Q %d with Vas/V = %d lies %d dB under its bound', (q, alpha, db) => {
    const qmc = 4;
    expect(10 * Math.log10(realBoxShare(q, alpha, qmc))).toBeCloseTo(db, 2);
    const [fc, litres] = [50, 40];
    const stretch = Math.sqrt(1 + alpha);
    const qec = (q * qmc) / (qmc - q);
    const own = referenceEfficiency(fc / stretch, alpha * litres, qec / stretch);
    const half = (1 / q ** 2 - 2) / 2;
    const f3 = fc * Math.sqrt(half + Math.sqrt(half ** 2 + 1));
    expect(own / (closedBoxEfficiency(f3, litres, q) * realBoxShare(q, alpha, qmc))).toBeCloseTo(1, 9);
  });

  test('reach and volume are what the efficiency leaves', () => {
    const efficiency = closedBoxEfficiency(40, 50);
    expect(closedBoxF3Hz(efficiency, 50)).toBeCloseTo(40, 9);
    expect(closedBoxLitres(efficiency, 40)).toBeCloseTo(50, 9);
    // An octave more reach takes eight times the box: Hofmann's law, a fact of the trade.
    expect(closedBoxLitres(efficiency, 20)).toBeCloseTo(400, 6);
  });
});

describe('level at the seat', () => {
  const seat = {
    ...{ distanceMm: 4000, watts: 100, ohms: 8, outputOhms: 0 },
    ...{ speakerCount: 2, roomGainDb: 3 },
  };
  // Inverse-square law and power sum, any acoustics handbook: 100 W are 20 dB over 1 W, 4 m are
  // 12.04 dB under 1 m, two incoherent sources 3.01 dB over one.
  test('100 W, 4 m, a pair, 3 dB of room: 87 dB become 101', () => {
    expect(seatGainsDb(seat)).toEqual({
      drive: expect.closeTo(20, 9) as number,
      source: 0,
      distance: expect.closeTo(-12.0412, 4) as number,
      count: expect.closeTo(3.0103, 4) as number,
      room: 3,
    });
    expect(seatLevelDb(87, seat)).toBeCloseTo(87 + 20 - 12.0412 + 3.0103 + 3, 3);
  });

  // A source behind 2.5 Ω that gives 6 W into 8 Ω has √48·(1 + 2.5/8) V: 2.36 dB over what stands
  // across the load.
  test('an amplifier with output resistance is told by the voltage across its load', () => {
    const valve = { ...seat, watts: 6, outputOhms: 2.5 };
    expect(seatGainsDb(valve).source).toBeCloseTo(2.362, 3);
    // Into 8 Ω the divider takes the same away again.
    expect(seatGainsDb(valve).source + sourceLossDb(8, 0, 2.5)).toBeCloseTo(0, 12);
    expect(sourceLossDb(8, 60, 2.5)).toBeCloseTo(
      20 * Math.log10(8 / Math.hypot(8 * 0.5 + 2.5, 8 * Math.sin(Math.PI / 3))),
      9,
    );
  });

  test('the power for that level is the power that was there', () => {
    expect(wattsForLevel(87, seatLevelDb(87, seat), seat)).toBeCloseTo(100, 9);
    expect(wattsForLevel(87, seatLevelDb(87, seat) - 3.0103, seat)).toBeCloseTo(50, 2);
  });
});

// Small source in an infinite baffle: p = ρ·(dU/dt)/(2π·r) (Beranek 1954 and any handbook), worked
// here with ρ = 1.204.
test('a cone of 335 cm² moving ±5 mm at 40 Hz gives 97.1 dB at 1 m', () => {
  const acceleration = (2 * Math.PI * 40) ** 2 * 0.005;
  const pascals = (1.204 * 0.0335 * acceleration) / (2 * Math.PI) / Math.SQRT2;
  const level = 20 * Math.log10(pascals / 20e-6);
  expect(level).toBeCloseTo(97.11, 2);
  expect(levelOfExcursionDb(5, 40, 335)).toBeCloseTo(level, 2);
});

// IEC 60268-5: the lowest modulus in the rated band is not under 80 % of the rated impedance.
test.each([
  [4, 3.2],
  [6, 4.8],
  [8, 6.4],
])('rated %d Ω allows %d Ω', (rated, least) => expect(leastOhms(rated)).toBe(least));

test('2.5 Ω of source against 4 and 40 Ω make 3.7 dB', () => {
  expect(sourceSwingDb(2.5, 4, 40)).toBeCloseTo(20 * Math.log10(40 / 42.5 / (4 / 6.5)), 12);
  expect(sourceSwingDb(0, 4, 40)).toBe(0);
});

describe('equivalent peak dissipation resistance', () => {
  /**
   * Greatest instantaneous dissipation of a class-B stage at 1 V rails into 1 Ω, found by trying
   * every level and moment.
   */
  function worstDissipation(phi: number): number {
    let worst = 0;
    for (let amplitude = 0.02; amplitude <= 1.0001; amplitude += 0.02)
      for (let x = 0; x < 2 * Math.PI; x += 0.002) {
        const current = amplitude * Math.sin(x - phi);
        if (current > 0) worst = Math.max(worst, (1 - amplitude * Math.sin(x)) * current);
      }
    return worst;
  }

  test.each([0, 15, 30, 45, 60, 75, 90])('at %d°', (degrees) => {
    const tried = 1 / (4 * worstDissipation((degrees * Math.PI) / 180));
    expect(equivalentOhms(1, degrees)).toBeCloseTo(tried, 4);
    expect(equivalentOhms(1, -degrees)).toBe(equivalentOhms(1, degrees));
  });

  test('a resistor is its own equivalent', () => expect(equivalentOhms(8, 0)).toBeCloseTo(8, 12));
});
