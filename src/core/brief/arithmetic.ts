import { cornerOverResonance } from '@/core/box/alignments';
import { airDensityKgpm3 } from '@/core/air/density';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { sensitivityVolts } from '@/core/driver/efficiency';

/** 20 µPa. */
const referencePascals = 20e-6;

/** What the level at a seat is made of. */
export interface SeatConditions {
  readonly distanceMm: number;
  /** Power that the amplifier gives, and the load into which this is stated. */
  readonly watts: number;
  readonly ohms: number;
  /** The amplifier's output resistance, without the cable. */
  readonly outputOhms: number;
  readonly speakerCount: number;
  /** What the room adds to the direct sound there. */
  readonly roomGainDb: number;
}

/**
 * Gain from a speaker's level at 1 m, for 2.83 V at the source behind the amplifier's resistance,
 * to the level at a seat, term by term, dB. The rated power is a voltage across the rated load,
 * √(P·R); the source has (1 + Rout/R) times that.
 */
export function seatGainsDb({
  distanceMm,
  watts,
  ohms,
  outputOhms,
  speakerCount,
  roomGainDb,
}: SeatConditions) {
  return {
    drive: 20 * Math.log10(Math.sqrt(watts * ohms) / sensitivityVolts),
    source: 20 * Math.log10(1 + outputOhms / ohms),
    distance: -20 * Math.log10(distanceMm / 1000),
    /** Speakers in different places add in power, but for the lows. */
    count: 10 * Math.log10(speakerCount),
    room: roomGainDb,
  };
}

/** All gains but that of the source: what counts for a level at 2.83 V across the rated load. */
export function gainAcrossLoadDb(conditions: SeatConditions): number {
  const { drive, distance, count, room } = seatGainsDb(conditions);
  return drive + distance + count + room;
}

/**
 * Level at a seat.
 *
 * @param sourceLevelDb dB re 20 µPa at 1 m for 2.83 V at the source
 */
export const seatLevelDb = (sourceLevelDb: number, conditions: SeatConditions): number =>
  sourceLevelDb + gainAcrossLoadDb(conditions) + seatGainsDb(conditions).source;

/** Power into the stated load for a level at a seat, W. */
export function wattsForLevel(
  sourceLevelDb: number,
  levelDb: number,
  conditions: Omit<SeatConditions, 'watts'>,
): number {
  return 10 ** ((levelDb - seatLevelDb(sourceLevelDb, { ...conditions, watts: 1 })) / 10);
}

/** Rms voltage at the source for a level at a seat. */
export function voltsForLevel(
  sourceLevelDb: number,
  levelDb: number,
  conditions: SeatConditions,
): number {
  const { distance, count, room } = seatGainsDb(conditions);
  return sensitivityVolts * 10 ** ((levelDb - sourceLevelDb - distance - count - room) / 20);
}

/**
 * Level of a closed box at a frequency against its level far above, dB: |x²/(1 − x² + jx/Q)|, x =
 * f/fc.
 */
export function closedBoxLevelDb(hz: number, fcHz: number, q: number): number {
  const x = hz / fcHz;
  return 20 * Math.log10(x ** 2 / Math.hypot(1 - x ** 2, x / q));
}

/**
 * Group delay at its corner of a high pass made of second-order parts with one corner, ms: each has
 * 2Q/ω there, from −dφ/dω of x²/(1 − x² + jx/Q).
 */
export const cornerDelayMs = (hz: number, qs: readonly number[]): number =>
  qs.reduce((sum, q) => sum + (1000 * 2 * q) / (2 * Math.PI * hz), 0);

/** Greatest rise of a closed box above its level far above, dB; none up to Q = 0.71. */
export const closedBoxPeakDb = (q: number): number =>
  q <= Math.SQRT1_2 ? 0 : 20 * Math.log10(q ** 2 / Math.sqrt(q ** 2 - 0.25));

/**
 * Greatest possible efficiency of a closed box with a given −3 dB frequency and net volume, without
 * losses: η = (4π²/c³)·f₃³·V/(Q·g³), where g = f₃/fc follows from Q (Small, J. Audio Eng. Soc. 20
 * and 21, 1972–73).
 *
 * @param f3Hz −3 dB frequency, Hz
 * @param litres net volume, litres
 * @param q system Q; the best is close to 1.1, where Small gives 2.0·10⁻⁶·f₃³·V
 */
export function closedBoxEfficiency(f3Hz: number, litres: number, q = 1.1, temperatureC = 20) {
  const g = cornerOverResonance(q);
  const c = speedOfSoundMps(temperatureC);
  return ((4 * Math.PI ** 2) / c ** 3) * ((f3Hz ** 3 * (litres / 1000)) / (q * g ** 3));
}

/**
 * What real closed boxes have: compliance ratio Vas/V, and the mechanical Q of driver and box
 * together (common practice).
 */
export const usualClosedBox = { leastAlpha: 2, mostAlpha: 4, qmc: 4 } as const;

/**
 * Share of {@link closedBoxEfficiency} that a box of a finite compliance ratio with losses has:
 * α/(1 + α)·(1 − Qtc/Qmc), from Qec = Qtc·Qmc/(Qmc − Qtc) in Small's η₀ (1972; the algebra is
 * ours).
 */
export const realBoxShare = (q: number, alpha: number, qmc: number): number =>
  (alpha / (1 + alpha)) * (1 - q / qmc);

/** Reach that an efficiency costs in a volume, Hz, and volume that it costs at a reach, litres. */
export const closedBoxF3Hz = (efficiency: number, litres: number, q?: number) =>
  Math.cbrt(efficiency / closedBoxEfficiency(1, litres, q));
export const closedBoxLitres = (efficiency: number, f3Hz: number, q?: number) =>
  efficiency / closedBoxEfficiency(f3Hz, 1, q);

/**
 * Level at 1 m that a cone's excursion makes in half space, dB rms for a sine of that peak
 * excursion: p = ρ·ω²·Sd·x/(2π·r), a small source in a wall (Beranek, Acoustics, 1954).
 */
export function levelOfExcursionDb(
  peakMm: number,
  hz: number,
  sdCm2: number,
  temperatureC = 20,
): number {
  const omega = 2 * Math.PI * hz;
  const pascals =
    (airDensityKgpm3(temperatureC) * omega ** 2 * (sdCm2 / 1e4) * (peakMm / 1000)) /
    (2 * Math.PI * Math.SQRT2);
  return 20 * Math.log10(pascals / referencePascals);
}

/**
 * Swing of the level that a source resistance makes of an impedance that runs between two values,
 * dB.
 */
export function sourceSwingDb(sourceOhms: number, lowestOhms: number, highestOhms: number): number {
  const share = (ohms: number) => ohms / (ohms + sourceOhms);
  return 20 * Math.log10(share(highestOhms) / share(lowestOhms));
}

/**
 * Least modulus that a rated impedance allows within the rated frequency range, Ω (IEC 60268-5: not
 * under 80 %; lower values outside that range, direct current included, are to be stated).
 */
export const leastOhms = (ratedOhms: number): number => (ratedOhms * 8) / 10;
