import type { Brief } from '@/core/design/briefSchema';
import type { SeatConditions } from './arithmetic';

/**
 * What a room adds to the direct sound at the seats when nothing was stated: 3 dB indoors, nothing outdoors
 * (common practice, no source).
 */
export const roomGainDbOf = ({ roomGainDb, purpose }: Brief): number =>
  roomGainDb ?? (purpose === 'outdoors' ? 0 : 3);

/** A pair, unless something else was answered. */
export const speakerCountOf = ({ speakerCount }: Brief): number => speakerCount ?? 2;

/** Conditions at a seat, or null while distance or amplifier are not known. */
export function seatOf(brief: Brief, which: 'nearest' | 'farthest'): SeatConditions | null {
  const { nearestSeatMm, farthestSeatMm, ratedWatts, ratedIntoOhms } = brief;
  const distanceMm =
    which === 'nearest' ? (nearestSeatMm ?? farthestSeatMm) : (farthestSeatMm ?? nearestSeatMm);
  if (distanceMm === null || ratedWatts === null || ratedIntoOhms === null) return null;
  return {
    distanceMm,
    watts: ratedWatts,
    ohms: ratedIntoOhms,
    speakerCount: speakerCountOf(brief),
    roomGainDb: roomGainDbOf(brief),
  };
}

/** Level that peaks shall reach at the farthest seat, dB; null while no loudness was asked for. */
export const wantedPeakDb = ({ loudnessDb, headroomDb }: Brief): number | null =>
  loudnessDb === null ? null : loudnessDb + (headroomDb ?? 0);

/** A way to drive the speaker, invented by us. */
export interface AmplifierPreset {
  readonly id: string;
  readonly name: string;
  readonly ratedWatts: number;
  readonly ratedIntoOhms: number;
  readonly lowestLoadOhms: number;
  readonly outputOhms: number;
}

/** Figures are typical of their kind (common practice, no source). Output resistance includes a short cable. */
export const amplifierPresets: readonly AmplifierPreset[] = [
  {
    id: 'small-transistor',
    name: 'Transistors, 25 W',
    ratedWatts: 25,
    ratedIntoOhms: 8,
    lowestLoadOhms: 4,
    outputOhms: 0.1,
  },
  {
    id: 'transistor',
    name: 'Transistors, 60 W',
    ratedWatts: 60,
    ratedIntoOhms: 8,
    lowestLoadOhms: 4,
    outputOhms: 0.05,
  },
  {
    id: 'large-transistor',
    name: 'Transistors, 200 W',
    ratedWatts: 200,
    ratedIntoOhms: 8,
    lowestLoadOhms: 2,
    outputOhms: 0.03,
  },
  {
    id: 'valve-pair',
    name: 'Valves in push-pull, 30 W',
    ratedWatts: 30,
    ratedIntoOhms: 8,
    lowestLoadOhms: 6,
    outputOhms: 1,
  },
  {
    id: 'single-valve',
    name: 'A single valve, 6 W',
    ratedWatts: 6,
    ratedIntoOhms: 8,
    lowestLoadOhms: 6,
    outputOhms: 2.5,
  },
];
