import type { Brief } from '@/core/document/briefSchema';
import type { Design } from '@/core/document/schema';
import { formatNumber } from '@/core/units/quantity';
import type { SeatConditions } from './arithmetic';

/**
 * Floor of a room of which nothing is said, and the distance up to which a room of that floor adds
 * nothing.
 */
const usualRoom = { squareMetres: 20, directMm: 1000 };
const mostRoomGainDb = 12;

/**
 * What a room adds to the direct sound at a seat: outdoors nothing, indoors the level falls by
 * about 3 dB for each doubling of the distance in the place of 6, from about 1 m on in a small room
 * and from farther away in a larger one (common practice, no source).
 */
export function roomGainDbOf(brief: Brief, distanceMm: number): number {
  const { roomGainDb, roomSquareMetres, purpose } = brief;
  if (roomGainDb !== null) return roomGainDb;
  if (purpose === 'outdoors') return 0;
  const floor = (roomSquareMetres ?? usualRoom.squareMetres) / usualRoom.squareMetres;
  const directMm = usualRoom.directMm * Math.sqrt(floor);
  return Math.min(mostRoomGainDb, Math.max(0, 10 * Math.log10(distanceMm / directMm)));
}

/** Where what the room adds comes from. */
export function roomSource({ roomGainDb, roomSquareMetres, purpose }: Brief): string {
  if (roomGainDb !== null) return 'as stated';
  if (purpose === 'outdoors') return 'outdoors it adds nothing';
  const floor =
    roomSquareMetres === null
      ? `${usualRoom.squareMetres} m² of floor, assumed`
      : `${formatNumber(roomSquareMetres)} m² of floor`;
  return `3 dB for each doubling of the distance beyond about 1 m in 20 m², farther in a larger one (common practice); ${floor}`;
}

/** A pair, unless something else was answered. */
export const speakerCountOf = ({ speakerCount }: Brief): number => speakerCount ?? 2;

/** Conditions at a seat, or null while distance or amplifier are not known. */
export function seatOf(
  { brief, amplifier }: Pick<Design, 'brief' | 'amplifier'>,
  which: 'nearest' | 'farthest',
): SeatConditions | null {
  const { nearestSeatMm, farthestSeatMm, ratedWatts, ratedIntoOhms } = brief;
  const distanceMm =
    which === 'nearest' ? (nearestSeatMm ?? farthestSeatMm) : (farthestSeatMm ?? nearestSeatMm);
  if (distanceMm === null || ratedWatts === null || ratedIntoOhms === null) return null;
  return {
    distanceMm,
    watts: ratedWatts,
    ohms: ratedIntoOhms,
    outputOhms: amplifier.outputOhms,
    speakerCount: speakerCountOf(brief),
    roomGainDb: roomGainDbOf(brief, distanceMm),
  };
}

/** Peak over rms of a sine, dB. */
const sineCrestDb = 20 * Math.log10(Math.SQRT2);

/**
 * Level of the sine whose peaks are as high as those that are asked for, at the farthest seat, dB:
 * an amplifier's power is that of a sine. Headroom is the crest factor of what is played, so a sine
 * may be 3 dB under its peaks. Null while no loudness was asked for.
 */
export const wantedSineDb = ({ loudnessDb, headroomDb }: Brief): number | null =>
  loudnessDb === null ? null : loudnessDb + Math.max(0, (headroomDb ?? 0) - sineCrestDb);

/** A way to drive the speaker, invented by us. */
interface AmplifierPreset {
  readonly id: string;
  readonly name: string;
  readonly ratedWatts: number;
  readonly ratedIntoOhms: number;
  readonly lowestLoadOhms: number;
  readonly outputOhms: number;
}

/**
 * Figures are typical of their kind, without the cable, which is asked for by itself (common
 * practice, no source).
 */
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
