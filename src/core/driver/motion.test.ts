import { logGrid } from '@/core/grid/logGrid';
import type { Samples } from '@/core/measurement/samples';
import { impedance as rigImpedance, type DriverModel } from '@/core/rig/models';
import { readingRoomDrivers } from '@/core/rig/readingRoom';
import { inventedDriver } from '@/core/rig/invented';
import { motionOfFigures, motionOfImpedance } from './motion';

const grid = logGrid(20, 20_000, 48);
const at = (hz: number) =>
  grid.reduce(
    (best, f, i) => (Math.abs(Math.log(f / hz)) < Math.abs(Math.log(grid[best] / hz)) ? i : best),
    0,
  );

const measured = (driver: DriverModel, fromHz = 10): Samples => {
  const frequencyHz = logGrid(fromHz, 20_000, 48);
  const values = Array.from(frequencyHz, (hz) => rigImpedance(driver, hz));
  return {
    frequencyHz,
    magnitude: Float64Array.from(values, ([re, im]) => Math.hypot(re, im)),
    phaseDeg: Float64Array.from(values, ([re, im]) => (Math.atan2(im, re) * 180) / Math.PI),
  };
};

/** The hidden mechanics, written out anew: x = Bl·I/(jω·(Rms + jωMms + k/jω)), I = V/Z. */
function hiddenMetresPerVolt(driver: DriverModel, hz: number): number {
  const omega = 2 * Math.PI * hz;
  const omegaC = 2 * Math.PI * driver.fcHz;
  const bl = Math.sqrt((omegaC * driver.movingMassKg * driver.reOhm) / driver.qec);
  const rms = (omegaC * driver.movingMassKg) / driver.qmc;
  const reactance = omega * driver.movingMassKg - (omegaC ** 2 * driver.movingMassKg) / omega;
  return bl / (Math.hypot(...rigImpedance(driver, hz)) * omega * Math.hypot(rms, reactance));
}
const blOf = ({ fcHz, movingMassKg, reOhm, qec }: DriverModel) =>
  Math.sqrt((2 * Math.PI * fcHz * movingMassKg * reOhm) / qec);

test.each([
  ...Object.entries(readingRoomDrivers),
  ...Array.from({ length: 9 }, (_, i) => [`invented ${i}`, inventedDriver(i)] as const),
])('%s: from impedance and force factor the hidden mechanics come back', (_, driver) => {
  const found = motionOfImpedance(measured(driver), blOf(driver), grid)!;
  expect(found).toMatchObject({ basis: 'impedance', fromHz: 0 });
  for (const hz of [30, 50, 100, 200].map((f) => (f * Math.max(driver.fcHz, 47)) / 47)) {
    const i = at(hz);
    const truth = hiddenMetresPerVolt(driver, grid[i]);
    expect(Math.abs(found.metresPerVolt[i] / truth - 1)).toBeLessThan(0.03);
  }
});

test('two peaks of a vented box: the cone stands still at the tuning, whatever the port does', () => {
  // Small 1973, without losses but QL = 10: a woofer of 40 Hz in a box tuned to 40 Hz, α = 1.4; the
  // circuit solved here.
  const [re, res, fs, q, alpha, fb, ql] = [6, 54, 40, 4, 1.4, 40, 10];
  const [w0, wb] = [2 * Math.PI * fs, 2 * Math.PI * fb];
  const bl = 10;
  const rms = (bl * bl) / res;
  const mass = (q * rms) / w0;
  const boxK = alpha * mass * w0 ** 2;
  const portMass = boxK / wb ** 2;
  const mobility = (w: number) => {
    // Box: its spring against port and leak; velocities add up behind the cone.
    const port = 1 / (w * portMass);
    const leak = 1 / (ql * (boxK / wb));
    // Admittances (velocity over force): jw/k of the spring, 1/(jwM) of the port, 1/R of the leak.
    const [yRe, yIm] = [leak, w / boxK - port];
    const y2 = yRe ** 2 + yIm ** 2;
    return { re: rms + yRe / y2, im: w * mass - (mass * w0 ** 2) / w - yIm / y2 };
  };
  const z = (w: number) => {
    const { re: a, im: b } = mobility(w);
    const s = a * a + b * b;
    return [re + (bl * bl * a) / s, 0.0006 * w - (bl * bl * b) / s] as const;
  };
  const frequencyHz = logGrid(10, 20_000, 48);
  const values = Array.from(frequencyHz, (hz) => z(2 * Math.PI * hz));
  const samples: Samples = {
    frequencyHz,
    magnitude: Float64Array.from(values, ([a, b]) => Math.hypot(a, b)),
    phaseDeg: Float64Array.from(values, ([a, b]) => (Math.atan2(b, a) * 180) / Math.PI),
  };
  const found = motionOfImpedance(samples, bl, grid)!;
  for (const hz of [25, 30, 60, 100]) {
    const w = 2 * Math.PI * grid[at(hz)];
    const { re: a, im: b } = mobility(w);
    const truth = bl / (Math.hypot(...z(w)) * w * Math.hypot(a, b));
    expect(Math.abs(found.metresPerVolt[at(hz)] / truth - 1)).toBeLessThan(0.02);
  }
  expect(found.metresPerVolt[at(40)]).toBeLessThan(0.3 * found.metresPerVolt[at(25)]);
});

test('below the data the excursion is unknown, never nought; without phase or resonance nothing is said', () => {
  const { woofer } = readingRoomDrivers;
  const late = motionOfImpedance(measured(woofer, 35), blOf(woofer), grid)!;
  expect(late.fromHz).toBeCloseTo(35, 6);
  expect(late.metresPerVolt[at(30)]).toBeNaN();
  expect(late.metresPerVolt[at(50)]).toBeGreaterThan(0);
  expect(motionOfImpedance(measured(woofer, 200), blOf(woofer), grid)).toBeNull();
  expect(motionOfImpedance({ ...measured(woofer), phaseDeg: null }, 9, grid)).toBeNull();
});

test('figures alone: a closed box makes it stiffer, free air lets it move farther', () => {
  const figures = {
    fsHz: 30,
    qes: 0.4,
    qms: 4,
    vasLitres: 100,
    sdCm2: 330,
    mmsG: null,
    blTm: null,
    reOhm: 6,
  };
  const [free, boxed] = [null, 50].map((litres) => motionOfFigures(figures, litres, grid)!);
  // Far below the resonance x = V·Bl/(Re·k): with Vb = Vas/2 the stiffness is three times that of
  // the suspension alone.
  const low = logGrid(0.1, 0.2, 4);
  const [a, b] = [null, 50].map(
    (litres) => motionOfFigures(figures, litres, low)!.metresPerVolt[0],
  );
  expect(a / b).toBeCloseTo(3, 2);
  // Above, the mass decides alone.
  expect(free.metresPerVolt[at(500)] / boxed.metresPerVolt[at(500)]).toBeCloseTo(1, 1);
  expect(motionOfFigures({ ...figures, vasLitres: null }, 50, grid)).toBeNull();
});
