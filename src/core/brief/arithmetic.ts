import { airDensityKgpm3 } from '@/core/air/density';
import { speedOfSoundMps } from '@/core/air/speedOfSound';

/** Voltage at which sensitivity is stated: 1 W into 8 Ω. */
export const sensitivityVolts = Math.sqrt(8);

/** 20 µPa. */
const referencePascals = 20e-6;

/** What the level at a seat is made of. */
export interface SeatConditions {
  readonly distanceMm: number;
  /** Power that the amplifier gives, and the load into which this is stated. */
  readonly watts: number;
  readonly ohms: number;
  readonly speakerCount: number;
  /** What the room adds to the direct sound. */
  readonly roomGainDb: number;
}

/** Gain from a speaker's level at 2.83 V and 1 m to the level at a seat, term by term, dB. */
export function seatGainsDb({ distanceMm, watts, ohms, speakerCount, roomGainDb }: SeatConditions) {
  return {
    drive: 20 * Math.log10(Math.sqrt(watts * ohms) / sensitivityVolts),
    distance: -20 * Math.log10(distanceMm / 1000),
    /** Speakers in different places add in power. */
    count: 10 * Math.log10(speakerCount),
    room: roomGainDb,
  };
}

/**
 * Level at a seat.
 *
 * @param sensitivityDb dB re 20 µPa at 2.83 V and 1 m
 */
export function seatLevelDb(sensitivityDb: number, conditions: SeatConditions): number {
  const { drive, distance, count, room } = seatGainsDb(conditions);
  return sensitivityDb + drive + distance + count + room;
}

/** Power into the stated load for a level at a seat, W. */
export function wattsForLevel(
  sensitivityDb: number,
  levelDb: number,
  conditions: Omit<SeatConditions, 'watts'>,
): number {
  return 10 ** ((levelDb - seatLevelDb(sensitivityDb, { ...conditions, watts: 1 })) / 10);
}

/**
 * Reference efficiency in half space, η₀ = 4π²·fs³·Vas/(c³·Qes) (Small, J. Audio Eng. Soc. 20, 1972).
 *
 * @param fsHz resonance, Hz
 * @param vasLitres equivalent volume of the suspension, litres
 */
export function referenceEfficiency(
  fsHz: number,
  vasLitres: number,
  qes: number,
  temperatureC = 20,
): number {
  const c = speedOfSoundMps(temperatureC);
  return (4 * Math.PI ** 2 * fsHz ** 3 * (vasLitres / 1000)) / (c ** 3 * qes);
}

/**
 * Level that an efficiency gives for 1 W at 1 m in half space: 10·log(η₀·ρc/(2π·p₀²)), 112 dB for η₀ = 1.
 */
export function levelForEfficiencyDb(efficiency: number, temperatureC = 20): number {
  const intensity = efficiency / (2 * Math.PI);
  const impedance = airDensityKgpm3(temperatureC) * speedOfSoundMps(temperatureC);
  return 10 * Math.log10((intensity * impedance) / referencePascals ** 2);
}

/** The inverse of {@link levelForEfficiencyDb}. */
export const efficiencyForLevel = (levelDb: number, temperatureC = 20): number =>
  10 ** ((levelDb - levelForEfficiencyDb(1, temperatureC)) / 10);

/**
 * Greatest possible efficiency of a closed box with a given −3 dB frequency and net volume, without losses:
 * η = (4π²/c³)·f₃³·V/(Q·g³), where g = f₃/fc follows from Q (Small, J. Audio Eng. Soc. 20 and 21, 1972–73).
 *
 * @param f3Hz −3 dB frequency, Hz
 * @param litres net volume, litres
 * @param q system Q; the best is close to 1.1, where Small gives 2.0·10⁻⁶·f₃³·V
 */
export function closedBoxEfficiency(f3Hz: number, litres: number, q = 1.1, temperatureC = 20) {
  const half = (1 / q ** 2 - 2) / 2;
  const g = Math.sqrt(half + Math.sqrt(half ** 2 + 1));
  const c = speedOfSoundMps(temperatureC);
  return ((4 * Math.PI ** 2) / c ** 3) * ((f3Hz ** 3 * (litres / 1000)) / (q * g ** 3));
}

/** Reach that an efficiency costs in a volume, Hz, and volume that it costs at a reach, litres: closed box at its best. */
export const closedBoxReachHz = (efficiency: number, litres: number, temperatureC = 20) =>
  Math.cbrt(efficiency / closedBoxEfficiency(1, litres, undefined, temperatureC));
export const closedBoxLitres = (efficiency: number, f3Hz: number, temperatureC = 20) =>
  efficiency / closedBoxEfficiency(f3Hz, 1, undefined, temperatureC);

/**
 * How far a cone must travel to each side for a level at 1 m in half space, mm peak:
 * p = ρ·ω²·Sd·x/(2π·r), a small source (Beranek, Acoustics, 1954, for a simple source in a baffle).
 */
export function travelMm(levelDb: number, hz: number, sdCm2: number, temperatureC = 20): number {
  const peakPascals = Math.SQRT2 * referencePascals * 10 ** (levelDb / 20);
  const omega = 2 * Math.PI * hz;
  return (
    (1000 * 2 * Math.PI * peakPascals) /
    (airDensityKgpm3(temperatureC) * omega ** 2 * (sdCm2 / 1e4))
  );
}

/** Swing of the level that a source resistance makes of an impedance that runs between two values, dB. */
export function sourceSwingDb(sourceOhms: number, lowestOhms: number, highestOhms: number): number {
  const share = (ohms: number) => ohms / (ohms + sourceOhms);
  return 20 * Math.log10(share(highestOhms) / share(lowestOhms));
}

/** Least modulus that a rated impedance allows (IEC 60268-5: not under 80 % of the rated value), Ω. */
export const leastOhms = (ratedOhms: number): number => (ratedOhms * 8) / 10;
