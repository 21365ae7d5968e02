import { logGrid } from '@/core/grid/logGrid';
import { programmeShares } from '@/core/spectrum/programme';

/** What a data sheet says of a driver's power. */
export interface PowerSheet {
  readonly ratedWatts: number | null;
  readonly ratedAs: 'noise' | 'aes' | 'programme' | 'system' | null;
  readonly nominalOhms: number | null;
  readonly filterHz: number | null;
  readonly filterOrder: number | null;
  readonly reOhm: number | null;
  readonly fsHz: number | null;
}

/** A rating as the mean square voltage at the terminals that it allows under programme. */
export interface PowerRating {
  readonly kind: 'noise' | 'aes' | 'programme' | 'system';
  /** The sheet did not say which kind, or not by which impedance. */
  readonly isKindAssumed: boolean;
  readonly areOhmsAssumed: boolean;
  /** Impedance by which volts count as watts. */
  readonly ohms: number;
  readonly voltsSquared: number;
  /** Power on the sheet. */
  readonly statedWatts: number;
  /** What it allows as watts of noise by that impedance. */
  readonly watts: number;
  /** High pass behind which a system rating was taken. */
  readonly filter: { readonly hz: number; readonly order: number } | null;
}

/**
 * A driver whose resonance lies above this is a tweeter: its power is that of a system more often
 * than not (common practice).
 */
const tweeterFromHz = 400;
/** Where and how steeply a system rating is filtered when nothing is said (common practice). */
const usualFilter = { timesFs: 3, hz: 2500, order: 2 };
/** Nominal impedances, and a usual coil's share of them. */
const nominals = [2, 4, 6, 8, 12, 16, 32];
const coilShare = 0.72;
/** Lowest impedance over the coil's resistance (common practice). */
const minimumOverRe = 1.15;

/** The nominal impedance that a coil's resistance speaks for; 8 Ω where nothing does. */
function nominalOf(reOhm: number | null): number {
  if (reOhm === null) return 8;
  const distance = (ohms: number) => Math.abs(Math.log((ohms * coilShare) / reOhm));
  return nominals.reduce((best, ohms) => (distance(ohms) < distance(best) ? ohms : best));
}

/**
 * Turns a rating into the voltage that it allows. Power ratings are voltages: noise (IEC 60268-5)
 * is V²/Z by the nominal impedance, AES (AES2) by the lowest, programme is twice that of noise, and
 * a system rating is the power that the whole speaker takes, of which a tweeter gets what its
 * filter lets pass.
 *
 * @param lowestOhms smallest impedance that was measured; null when it was not
 * @returns null when the sheet states no power
 */
export function ratingOf(sheet: PowerSheet, lowestOhms: number | null = null): PowerRating | null {
  const { ratedWatts, ratedAs, nominalOhms, reOhm, fsHz, filterHz, filterOrder } = sheet;
  if (ratedWatts === null) return null;
  const isTweeter = fsHz !== null && fsHz > tweeterFromHz;
  const kind = ratedAs ?? (isTweeter ? 'system' : 'noise');
  // A sheet that says nothing of the coil leaves the lowest impedance that was measured.
  const coilOhms = reOhm ?? (lowestOhms === null ? null : lowestOhms / minimumOverRe);
  const nominal = nominalOhms ?? nominalOf(coilOhms);
  const least = lowestOhms ?? (reOhm === null ? null : minimumOverRe * reOhm);
  const ohms = kind === 'aes' && least !== null ? least : nominal;
  const filter =
    kind === 'system'
      ? {
          hz: filterHz ?? (fsHz === null ? usualFilter.hz : usualFilter.timesFs * fsHz),
          order: filterOrder ?? usualFilter.order,
        }
      : null;
  const share = kind === 'programme' ? 0.5 : filter ? passedShare(filter) : 1;
  return {
    kind,
    isKindAssumed: ratedAs === null,
    areOhmsAssumed: nominalOhms === null && kind !== 'aes',
    ohms,
    voltsSquared: ratedWatts * ohms * share,
    statedWatts: ratedWatts,
    watts: ratedWatts * share,
    filter,
  };
}

const ratingGridHz = logGrid(20, 20_000, 24);
const ratingShares = programmeShares(ratingGridHz);

/** Share of the programme's mean square that passes a Butterworth high pass. */
export const passedShare = ({ hz, order }: { readonly hz: number; readonly order: number }) =>
  ratingShares.reduce((sum, share, i) => {
    const square = (hz / ratingGridHz[i]) ** 2;
    // By hand: a power is the dearest operation of all that a nudge takes.
    let raised = square;
    for (let n = 1; n < order; n++) raised *= square;
    return sum + share / (1 + raised);
  }, 0);
