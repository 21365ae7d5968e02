import { speedOfSoundMps } from '@/core/air/speedOfSound';
import type { Design } from '@/core/document/schema';
import type { Seat } from '@/core/document/seats';
import { mirrored, type Point } from '@/core/layout/mirrored';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import { levelDbOf } from '@/core/prediction/derived';
import {
  sumIn,
  type HeardDriver,
  type Sending,
  type SentTo,
} from '@/core/prediction/offAxisLevels';
import type { RadiationSource } from '@/core/radiation/direction';

/** What is heard at a seat. */
export interface SeatHeard {
  readonly seat: Seat;
  /** Direct sound, dB referred to 1 m. */
  readonly directDb: Float64Array;
  /**
   * With the mirror images in the surroundings, and the other speaker, over a third of an octave;
   * null in a free field.
   */
  readonly togetherDb: Float64Array | null;
  readonly source: RadiationSource;
}

/** A path from the speaker to the seat: as if heard from another place, weaker. */
interface Image {
  /** Of the seat, as the speaker sees it, mm. */
  readonly at: Point;
  /** Amplitude over the direct sound’s, the distance apart. */
  readonly gain: number;
}

const lengthOf = ({ x, y, z }: Point) => Math.hypot(x, y, z);

/**
 * Seats with the reflections of what is near the speaker: each surface once, as the mirror image
 * of the listener in it, √(1 − absorption) as strong; surfaces are large and flat (an estimate for a
 * desk). The other speaker of a pair plays the same, turned inward as far.
 */
export function createNearness(frequencyHz: Float64Array) {
  const points = frequencyHz.length;
  return (
    design: Design,
    heard: readonly HeardDriver[],
    sending: Sending,
    seats: readonly Seat[],
  ): SeatHeard[] => {
    const { boundaries: stated, pair } = design.surroundings;
    // Walls to the sides are told from the nearer speaker's axis; places from the middle of a pair.
    const boundaries = stated.map((one) =>
      pair && (one.kind === 'left-wall' || one.kind === 'right-wall')
        ? { ...one, distanceMm: one.distanceMm + pair.apartMm / 2 }
        : one,
    );
    const speedMmPerS = 1000 * speedOfSoundMps(design.airTemperatureC);
    const at = (seat: Seat): Point => ({
      x: seat.distanceMm * seat.heading.x,
      y: seat.distanceMm * seat.heading.y,
      z: seat.distanceMm * seat.heading.z,
    });
    const imagesOf = (place: Point): Image[] => [
      { at: place, gain: 1 },
      ...boundaries.map((one) => ({
        at: mirrored(one, place),
        gain: Math.sqrt(1 - one.absorption),
      })),
    ];
    // Seats are told from the middle of a pair; each speaker sees them from its own place and axis.
    const speakers = pair ? ([-1, 1] as const) : ([0] as const);
    const seenBy = (side: number, { x, y, z }: Point): Point => {
      if (!pair || side === 0) return { x, y, z };
      const turn = (side * pair.toeInDeg * Math.PI) / 180;
      const across = x - (side * pair.apartMm) / 2;
      return {
        x: across * Math.cos(turn) + z * Math.sin(turn),
        y,
        z: z * Math.cos(turn) - across * Math.sin(turn),
      };
    };
    const asked = seats.flatMap((seat) => [
      { at: at(seat), gain: 1, isDirect: true },
      ...speakers.flatMap((side) =>
        imagesOf(at(seat)).map((image) => ({
          ...{ at: seenBy(side, image.at), gain: image.gain },
          isDirect: false,
        })),
      ),
    ]);
    const rows = sending.rowsAs(
      'seats',
      asked.map(({ at: place }): SentTo => {
        const distanceMm = lengthOf(place);
        return {
          distanceMm,
          heading: { x: place.x / distanceMm, y: place.y / distanceMm, z: place.z / distanceMm },
        };
      }),
    );
    if (!rows) return [];
    const each = asked.length / Math.max(1, seats.length);
    const isAlone = boundaries.length === 0 && !pair;
    return seats.map((seat, s): SeatHeard => {
      const first = s * each;
      const direct = sumIn(rows.pressures, heard, first, points);
      const all = { re: new Float64Array(points), im: new Float64Array(points) };
      for (let k = first + 1; k < first + each; k++) {
        const farMm = lengthOf(asked[k].at);
        const sum = sumIn(rows.pressures, heard, k, points);
        const gain = (asked[k].gain * seat.distanceMm) / farMm;
        const seconds = (farMm - seat.distanceMm) / speedMmPerS;
        addDelayed(all, sum, gain, seconds, frequencyHz);
      }
      return {
        seat,
        directDb: levelDbOf(direct),
        togetherDb: isAlone ? null : smoothedDb(all, frequencyHz),
        source: rows.sources[first],
      };
    });
  };
}

/** Half of the octaves over which combs of reflections are averaged. */
const smoothOctaves = 1 / 6;

/** Mean energy over a third of an octave, dB. */
function smoothedDb({ re, im }: GridSpectrum, frequencyHz: Float64Array): Float64Array {
  const energy = re.map((x, i) => x * x + im[i] * im[i]);
  return energy.map((_, i) => {
    let [sum, count] = [0, 0];
    for (let k = 0; k < energy.length; k++) {
      if (Math.abs(Math.log2(frequencyHz[k] / frequencyHz[i])) > smoothOctaves) continue;
      sum += energy[k];
      count++;
    }
    return 10 * Math.log10(sum / count);
  });
}

function addDelayed(
  { re: outRe, im: outIm }: GridSpectrum,
  { re, im }: GridSpectrum,
  gain: number,
  seconds: number,
  frequencyHz: Float64Array,
): void {
  for (let i = 0; i < re.length; i++) {
    const angle = -2 * Math.PI * frequencyHz[i] * seconds;
    const [cos, sin] = [gain * Math.cos(angle), gain * Math.sin(angle)];
    outRe[i] += re[i] * cos - im[i] * sin;
    outIm[i] += re[i] * sin + im[i] * cos;
  }
}
