import type { Brief } from './briefSchema';
import type { Design } from './schema';

/** How hard an amplifier is driven where power, heat and excursion are told. */
interface Drive {
  /** Mean square voltage over that of a sine at the rated power. */
  readonly share: number;
  /** For a choice among them, and for a sentence that begins with "With …". */
  readonly name: string;
  readonly words: string;
}

/**
 * The programme of IEC 60268-1 has peaks of twice its rms voltage (IEC 60268-5 asks for 1.8 to
 * 2.2;), a sine of √2. Music with peaks 10 dB over its rms is usual (common practice), pressed
 * music has less, an orchestra more.
 */
export const drives: Readonly<Record<NonNullable<Brief['programme']>, Drive>> = {
  overdriven: {
    share: 1,
    name: 'noise, 3 dB into clipping',
    words: 'the amplifier 3 dB into clipping, a worst case',
  },
  full: {
    share: 0.5,
    name: 'noise, just short of clipping',
    words: 'the amplifier just short of clipping on noise',
  },
  music: {
    share: 0.2,
    name: 'music, just short of clipping',
    words: 'music just short of clipping, peaks 10 dB over its rms',
  },
};

/** The drive that a brief means; the worst case while it does not say. */
export const driveOf = ({ programme }: Brief): Drive => drives[programme ?? 'overdriven'];

/**
 * Peak over rms of a cone's excursion under programme. Excursion is a narrow low band of it and no
 * longer clipped: nearly Gaussian, about 40 independent swings a second, of which one in ten
 * seconds passes √(2·ln 400) = 3.5 (Rice 1944).
 */
export const excursionCrestFactor = 3.5;

/** Load by which the rated power is stated; 8 Ω while nothing is said. */
const ratedInto = ({ ratedIntoOhms }: Brief): number => ratedIntoOhms ?? 8;

/**
 * Rms voltage of the source behind the amplifier's output resistance when it gives its rated power
 * into its rated load: √(P·R)·(1 + Rout/R). Null while the brief does not say the power.
 */
export function ratedSourceVolts({ brief, amplifier }: Pick<Design, 'brief' | 'amplifier'>) {
  if (brief.ratedWatts === null) return null;
  const ohms = ratedInto(brief);
  return Math.sqrt(brief.ratedWatts * ohms) * (1 + amplifier.outputOhms / ohms);
}

/** The same under the programme that the brief means. */
export function driveVoltsOf(design: Pick<Design, 'brief' | 'amplifier'>): number | null {
  const volts = ratedSourceVolts(design);
  return volts === null ? null : volts * Math.sqrt(driveOf(design.brief).share);
}

/** Power ratings in which resistors are sold, W (common practice). */
const soldRatings = [1, 2, 5, 10, 20, 50, 100, 200];

/**
 * The smallest usual rating of which a heat is no more than half; twice the heat beyond all of
 * them.
 */
export const usualRating = (watts: number): number =>
  soldRatings.find((rating) => rating >= 2 * watts) ?? Math.ceil(2 * watts);
