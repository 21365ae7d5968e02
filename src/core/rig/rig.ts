import { strToU8 } from 'fflate';
import { logGrid } from '@/core/grid/logGrid';
import { responseOnGrid } from '@/core/measurement/onGrid';
import type { Samples } from '@/core/measurement/samples';
import { exponentialSweep } from '@/core/measurement/sweep';
import { forward, inverse, powerOfTwo } from '@/core/spectrum/fourier';
import { seeded } from '@/core/spectrum/noise';
import { writeWav } from '@/core/formats/wav';
import { writeTable } from '@/core/formats/writeTable';
import { inventedDriver } from './invented';
import {
  impedance,
  pressure,
  type BaffleModel,
  type Complex,
  type DriverModel,
  type Load,
} from './models';
import { readingRoomBaffle, readingRoomDrivers } from './readingRoom';

/** A driver that is in the rig: one of the demo's, or one invented from a seed. */
export type RigDriver =
  | { readonly kind: 'demo'; readonly name: keyof typeof readingRoomDrivers }
  | { readonly kind: 'invented'; readonly seed: number };

/** How the practice rig is set up. */
export interface RigSetup {
  readonly driver: RigDriver;
  /** A second driver that plays in parallel; null for none. */
  readonly beside: RigDriver | null;
  readonly distanceMm: number;
  readonly horizontalDeg: number;
  /** Sweep at the terminals, V rms. */
  readonly volts: number;
  /** Background noise, dB re 20 µPa. */
  readonly noiseDb: number;
  /** Mains hum at 50 and 150 Hz, dB re 20 µPa; null for none. */
  readonly humDb: number | null;
  /** Height of speaker and microphone above a hard floor, mm; null for a room without one. */
  readonly floorMm: number | null;
  /** A clip with a bad contact: 1.3 Ω more, and a crackle. */
  readonly hasBadCable: boolean;
  /** Of noise and crackle. */
  readonly seed: number;
}

/** What the rig delivers: files as another program would write them. */
export interface RigFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

const sampleRateHz = 48_000;
const sweepAmplitude = 0.5;
/** Pressure at which the recording is full, Pa peak. */
const fullScalePa = 20;
const badContactOhms = 1.3;
const speedOfSoundMps = 343.2;

/**
 * Level to add to a response from this rig for dB re 20 µPa at the voltage of the sweep:
 * 20 lg(full scale · amplitude / (√2 · 20 µPa)).
 */
export const rigLevelDb = 20 * Math.log10((fullScalePa * sweepAmplitude) / Math.SQRT2 / 20e-6);

/**
 * Harmonics of every driver in the rig against the fundamental at 2.83 V, orders 2 and 3; they rise
 * with the voltage.
 */
const harmonicShares = [0, 0, 0.004, 0.0015];

/** Area of a rig driver's cone in cm²: what one would measure with a ruler. */
export const coneAreaCm2 = (driver: RigDriver): number => 1e4 * hiddenDriver(driver).areaM2;

/** The hidden driver behind a choice. Tests compare with it what the bench finds. */
export const hiddenDriver = (driver: RigDriver): DriverModel =>
  driver.kind === 'demo' ? readingRoomDrivers[driver.name] : inventedDriver(driver.seed);

const rigDriverName = (driver: RigDriver): string =>
  driver.kind === 'demo' ? driver.name : `driver ${driver.seed}`;

const setName = ({ driver, beside }: RigSetup) =>
  [driver, ...(beside ? [beside] : [])].map(rigDriverName).join(' and ');

/** The sweep that the rig plays, 20 Hz to 22 kHz in 1.5 s. */
const rigSweep = (): Float64Array =>
  exponentialSweep({
    fromHz: 20,
    toHz: 22_000,
    seconds: 1.5,
    amplitude: sweepAmplitude,
    sampleRateHz,
    silenceSeconds: [0.05, 0.4],
  });

/** Plays the sweep and records it: two WAV files, with the honest faults of the setup. */
export function rigRecording(setup: RigSetup, baffle: BaffleModel = readingRoomBaffle): RigFile[] {
  const sweep = rigSweep();
  const length = powerOfTwo(sweep.length + 0.1 * sampleRateHz);
  const drivers = [setup.driver, ...(setup.beside ? [setup.beside] : [])].map(hiddenDriver);
  const ohms = setup.hasBadCable ? badContactOhms : 0;
  const response = (driver: DriverModel, hz: number): Complex => {
    const [re, im] = impedance(driver, hz);
    const [pRe, pIm] = pressure(driver, baffle, hz, setup.volts, setup);
    // A resistance in the line takes its share of the voltage.
    const share = Math.hypot(re, im) / Math.hypot(re + ohms, im);
    const perInput = (share * Math.SQRT2) / sweepAmplitude / fullScalePa;
    return [pRe * perInput, pIm * perInput];
  };
  const spectrum = transferOnBins(
    drivers.map((driver) => (hz: number) => response(driver, hz)),
    length,
  );
  addFloor(spectrum, setup, length);
  const played = forward(withHarmonics(sweep, setup.volts), length);
  for (let k = 0; k < played.re.length; k++) {
    const [a, b] = [played.re[k], played.im[k]];
    played.re[k] = a * spectrum.re[k] - b * spectrum.im[k];
    played.im[k] = a * spectrum.im[k] + b * spectrum.re[k];
  }
  const recording = inverse(played).slice(0, sweep.length);
  addFaults(recording, setup);
  const angle = `hor ${setup.horizontalDeg < 0 ? '-' : '+'}${Math.abs(setup.horizontalDeg)}`;
  return [
    { name: 'practice sweep.wav', bytes: wav(sweep) },
    { name: `practice ${setName(setup)} ${angle}.wav`, bytes: wav(recording) },
  ];
}

const wav = (samples: Float64Array) => writeWav({ sampleRateHz, channels: [samples] });

/**
 * Sum of transfer functions on the bins of a transform: worked out on a log grid, interpolated
 * without the flight time.
 */
function transferOnBins(of: readonly ((hz: number) => Complex)[], length: number) {
  const binHz = Float64Array.from(
    { length: length / 2 + 1 },
    (_, k) => (Math.max(k, 1e-3) * sampleRateHz) / length,
  );
  const grid = logGrid(5, sampleRateHz / 2, 96);
  const re = new Float64Array(binHz.length);
  const im = new Float64Array(binHz.length);
  for (const transfer of of) {
    const values = Array.from(grid, transfer);
    const samples: Samples = {
      frequencyHz: grid,
      magnitude: Float64Array.from(values, ([x, y]) => 20 * Math.log10(Math.hypot(x, y))),
      phaseDeg: Float64Array.from(values, ([x, y]) => (Math.atan2(y, x) * 180) / Math.PI),
    };
    const part = responseOnGrid(samples, binHz);
    for (let k = 0; k < re.length; k++) {
      re[k] += part.re[k];
      im[k] += part.im[k];
    }
  }
  return { re, im };
}

/** A hard floor: the mirror image, farther and a little weaker. */
function addFloor(
  spectrum: { re: Float64Array; im: Float64Array },
  { floorMm, distanceMm }: RigSetup,
  length: number,
): void {
  if (floorMm === null) return;
  const mirroredMm = Math.hypot(distanceMm, 2 * floorMm);
  const share = (0.8 * distanceMm) / mirroredMm;
  const seconds = (mirroredMm - distanceMm) / 1000 / speedOfSoundMps;
  for (let k = 0; k < spectrum.re.length; k++) {
    const angle = (-2 * Math.PI * k * sampleRateHz * seconds) / length;
    const [c, s] = [1 + share * Math.cos(angle), share * Math.sin(angle)];
    const [a, b] = [spectrum.re[k], spectrum.im[k]];
    spectrum.re[k] = a * c - b * s;
    spectrum.im[k] = a * s + b * c;
  }
}

/**
 * The driver's distortion as sweeps of twice and three times the frequency: a sine through
 * Chebyshev polynomials T₂ and T₃ gives nothing but its harmonics. Samples above half the rate
 * alias in a converter; they are left out with the fade.
 */
function withHarmonics(sweep: Float64Array, volts: number): Float64Array {
  const drive = volts / 2.83;
  return sweep.map((value) => {
    const x = value / sweepAmplitude;
    const second = harmonicShares[2] * drive * (1 - 2 * x * x);
    const third = harmonicShares[3] * drive ** 2 * (3 * x - 4 * x ** 3);
    return value + sweepAmplitude * (second - harmonicShares[2] * drive + third);
  });
}

function addFaults(recording: Float64Array, setup: RigSetup): void {
  const { gaussian, uniform } = seeded(setup.seed);
  const pascals = (db: number) => 20e-6 * 10 ** (db / 20);
  const noise = pascals(setup.noiseDb) / fullScalePa;
  const hum = setup.humDb === null ? 0 : (pascals(setup.humDb) * Math.SQRT2) / fullScalePa;
  let crackle = 1;
  for (let i = 0; i < recording.length; i++) {
    const phase = (2 * Math.PI * 50 * i) / sampleRateHz;
    if (setup.hasBadCable && uniform() < 0.0004) crackle = 0.6 + 0.4 * uniform();
    else if (uniform() < 0.01) crackle = 1;
    const heard = recording[i] * (setup.hasBadCable ? crackle : 1);
    const value = heard + noise * gaussian() + hum * (Math.sin(phase) + 0.3 * Math.sin(3 * phase));
    // The converter has no more numbers than this.
    recording[i] = Math.min(1, Math.max(-1, value));
  }
}

/** What is done to the driver while its impedance is measured. */
export type ImpedanceRun =
  { readonly kind: 'as-mounted' } | { readonly kind: 'added-mass'; readonly massG: number };

/** Measures the impedance: a text table with half a thousandth of noise. */
export function rigImpedance(setup: RigSetup, run: ImpedanceRun): RigFile {
  const driver = hiddenDriver(setup.driver);
  const { gaussian } = seeded(setup.seed + 7);
  const load: Load = {
    mass: run.kind === 'added-mass' ? 1 + run.massG / 1000 / driver.movingMassKg : 1,
    stiffness: 1,
  };
  const contact = setup.hasBadCable ? badContactOhms : 0;
  const frequencyHz = logGrid(10, 20_000, 48);
  const values = Array.from(frequencyHz, (hz) => {
    const [re, im] = impedance(driver, hz, load);
    return [re + contact, im] as const;
  });
  const samples: Samples = {
    frequencyHz,
    magnitude: Float64Array.from(
      values,
      ([re, im]) => Math.hypot(re, im) * (1 + 0.0005 * gaussian()),
    ),
    phaseDeg: Float64Array.from(
      values,
      ([re, im]) => (Math.atan2(im, re) * 180) / Math.PI + 0.03 * gaussian(),
    ),
  };
  const what = run.kind === 'added-mass' ? ` with ${run.massG} g` : '';
  const name = `practice ${rigDriverName(setup.driver)} impedance${what}`;
  return {
    name: `${name}.txt`,
    bytes: strToU8(writeTable(samples, 'impedance', `${name}, simulated`)),
  };
}
