/**
 * Physical models of drivers on a baffle: what the practice rig measures, and what the demo's files
 * were made from. All are invented. Complex numbers are [re, im]; e^{+jωt}.
 */
export type Complex = readonly [number, number];

import { pistonDirectivity } from '@/core/radiation/piston';

export const add = (a: Complex, b: Complex): Complex => [a[0] + b[0], a[1] + b[1]];
export const multiply = (a: Complex, b: Complex): Complex => [
  a[0] * b[0] - a[1] * b[1],
  a[0] * b[1] + a[1] * b[0],
];
export const divide = (a: Complex, b: Complex): Complex => {
  const d = b[0] ** 2 + b[1] ** 2;
  return [(a[0] * b[0] + a[1] * b[1]) / d, (a[1] * b[0] - a[0] * b[1]) / d];
};
const polar = (size: number, angle: number): Complex => [
  size * Math.cos(angle),
  size * Math.sin(angle),
];

const airDensity = 1.204;
const speedOfSound = 343.2;

export interface DriverModel {
  /** In its closed chamber. */
  readonly fcHz: number;
  readonly qmc: number;
  readonly qec: number;
  readonly movingMassKg: number;
  readonly areaM2: number;
  readonly reOhm: number;
  /** Semi-inductance K(jω)^n (Leach 2002), K in Ω·s^n. */
  readonly coilK: number;
  readonly coilN: number;
  /** Second-order roll-off of the cone or dome as a whole. */
  readonly rollOffHz: number;
  readonly rollOffQ: number;
  /** Breakup and other resonances: centre, Q, height of the peak in dB (negative: a notch). */
  readonly resonances: readonly (readonly [number, number, number])[];
  readonly xMm: number;
  readonly yMm: number;
  readonly zMm: number;
}

/** Front of the cabinet, with the design axis crossing it at the origin. */
export interface BaffleModel {
  readonly leftMm: number;
  readonly rightMm: number;
  readonly topMm: number;
  readonly bottomMm: number;
}

/** Factors on the moving mass and on the stiffness: added mass, a closed box. */
export interface Load {
  readonly mass: number;
  readonly stiffness: number;
}

const bare: Load = { mass: 1, stiffness: 1 };

/** Terminal impedance: Re + coil + motional branch of the equivalent circuit (Small 1972). */
export function impedance(
  driver: DriverModel,
  hz: number,
  { mass, stiffness }: Load = bare,
): Complex {
  const omega = 2 * Math.PI * hz;
  const coil = polar(driver.coilK * omega ** driver.coilN, (driver.coilN * Math.PI) / 2);
  const peakOhm = (driver.reOhm * driver.qmc) / driver.qec;
  const detuning = driver.qmc * ((mass * hz) / driver.fcHz - (stiffness * driver.fcHz) / hz);
  return add(add([driver.reOhm, 0], coil), divide([peakOhm, 0], [1, detuning]));
}

/** Where the microphone stands: around the origin in the horizontal plane. */
interface MicrophonePlace {
  readonly distanceMm: number;
  readonly horizontalDeg: number;
}

const inFront: MicrophonePlace = { distanceMm: 1000, horizontalDeg: 0 };

/**
 * Pressure in pascals at the microphone for `volts`, flight time included; off axis as a rigid
 * piston beams.
 */
export function pressure(
  driver: DriverModel,
  baffle: BaffleModel,
  hz: number,
  volts: number,
  microphone: MicrophonePlace = inFront,
): Complex {
  const omega = 2 * Math.PI * hz;
  const omegaC = 2 * Math.PI * driver.fcHz;
  const forceFactor = Math.sqrt((omegaC * driver.movingMassKg * driver.reOhm) / driver.qec);
  const current = divide([volts, 0], impedance(driver, hz));
  const mechanical: Complex = [
    (omegaC * driver.movingMassKg) / driver.qmc,
    omega * driver.movingMassKg - (omegaC ** 2 * driver.movingMassKg) / omega,
  ];
  const velocity = divide(multiply([forceFactor, 0], current), mechanical);
  const halfSpace = multiply([0, (omega * airDensity * driver.areaM2) / (2 * Math.PI)], velocity);
  let shaped = multiply(halfSpace, edgeEffect(driver, baffle, hz));
  const x = hz / driver.rollOffHz;
  shaped = divide(shaped, [1 - x * x, x / driver.rollOffQ]);
  for (const [centreHz, q, heightDb] of driver.resonances) {
    const y = hz / centreHz;
    const gain = 10 ** (heightDb / 20);
    shaped = multiply(shaped, divide([1 - y * y, (gain * y) / q], [1 - y * y, y / q]));
  }
  const turn = (microphone.horizontalDeg * Math.PI) / 180;
  const [acrossMm, alongMm] = [
    microphone.distanceMm * Math.sin(turn) - driver.xMm,
    microphone.distanceMm * Math.cos(turn) - driver.zMm,
  ];
  const pathM = Math.hypot(acrossMm, driver.yMm, alongMm) / 1000;
  // On the design axis the demo's drivers count as measured on their own: only turning the
  // microphone makes them beam.
  const radiusM = Math.sqrt(driver.areaM2 / Math.PI);
  const beam = pistonDirectivity(
    ((omega / speedOfSound) * radiusM * Math.abs(acrossMm)) / 1000 / pathM,
  );
  return multiply(shaped, polar(beam / pathM, -omega * (pathM / speedOfSound)));
}

/**
 * Half space passing to full space, with the ripple of the edges: every piece of edge sends a
 * negative echo of half the sound that reached it, weighted by the angle under which the driver
 * sees it and by the beaming of the driver.
 */
function edgeEffect(driver: DriverModel, baffle: BaffleModel, hz: number): Complex {
  const k = (2 * Math.PI * hz) / speedOfSound;
  const radiusM = Math.sqrt(driver.areaM2 / Math.PI);
  const beaming = 1 / (1 + (k * radiusM * 0.45) ** 2);
  const rays = 180;
  let sum: Complex = [0, 0];
  for (let i = 0; i < rays; i++) {
    const angle = (2 * Math.PI * (i + 0.5)) / rays;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    const acrossMm =
      cos > 0 ? (baffle.rightMm - driver.xMm) / cos : (baffle.leftMm - driver.xMm) / cos;
    const alongMm =
      sin > 0 ? (baffle.topMm - driver.yMm) / sin : (baffle.bottomMm - driver.yMm) / sin;
    const edgeM = Math.min(acrossMm, alongMm) / 1000;
    sum = add(sum, polar(1 / rays, -k * edgeM));
  }
  return add([1, 0], multiply([-0.5 * beaming, 0], sum));
}
