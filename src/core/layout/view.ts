import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { piecesActing } from '@/core/baffle/diffraction/acting';
import { frontSeenFrom } from '@/core/baffle/dents';
import type { DriverId } from '@/core/fields';
import { logGrid } from '@/core/grid/logGrid';
import type { Design } from '@/core/document/schema';
import { createBending, placedDriver, pointBefore, pointToward } from '@/core/prediction/onBaffle';
import { headingOf, straight, type Direction } from '@/core/radiation/direction';
import { levelDbOf } from '@/core/prediction/derived';

/** What is asked of a driver on its baffle. */
export interface ViewRequest {
  readonly driverId: DriverId;
  readonly directions: readonly Direction[];
  /** Frequency at which the edges are asked what they add; null for none. */
  readonly atHz: number | null;
}

/** A piece of an edge as it acts at the cursor; mm on the design's axes. */
export interface EdgePiece {
  /** Number of the corner that its edge begins at. */
  readonly edge: number;
  readonly from: { readonly xMm: number; readonly yMm: number };
  readonly to: { readonly xMm: number; readonly yMm: number };
  /** Amplitude per metre of edge, and how much of it is in phase with the sum; 1 is the piston in a wall. */
  readonly perMetre: number;
  readonly inPhase: number;
}

/** What a baffle does to one of its drivers. */
export interface BaffleView {
  readonly driverId: DriverId;
  readonly frequencyHz: Float64Array;
  /** Where the sum is predicted, re the same piston in an infinite wall on its axis, dB. */
  readonly onAxisDb: Float64Array;
  /** As they were asked for, and the levels there. */
  readonly directions: readonly Direction[];
  readonly towardDb: readonly Float64Array[];
  readonly acting: readonly EdgePiece[];
}

/** Points per octave of the curves. */
const perOctave = 24;
/** The grid of baffle curves: 20 Hz to 20 kHz, 240 points. */
const baffleGridHz = (): Float64Array => logGrid(20, 20_000, perOctave);

/** Looks at drivers on their baffles, one after the other; what is the same is not worked out again. */
export function createBaffleViews(frequencyHz: Float64Array = baffleGridHz()) {
  const bend = createBending(frequencyHz);
  /** @returns null while the driver is on no baffle */
  return (design: Design, { driverId, directions, atHz }: ViewRequest): BaffleView | null => {
    const driver = design.drivers.find(({ id }) => id === driverId);
    const placed = driver && placedDriver(design, driver);
    if (!placed) return null;
    const speed = speedOfSoundMps(design.airTemperatureC);
    const bending = bend(placed, speed);
    const toward = (direction: Direction) => {
      return levelDbOf(bending.at(pointToward(headingOf(direction), design.listeningDistanceMm)));
    };
    return {
      ...{ driverId, frequencyHz, directions },
      onAxisDb: toward(straight),
      towardDb: directions.map(toward),
      acting: atHz === null || placed.kind === 'open' ? [] : actingOf(design, placed, atHz, speed),
    };
  };
}

function actingOf(
  design: Design,
  { shape, x, y, radiusM, setBackM }: NonNullable<ReturnType<typeof placedDriver>>,
  atHz: number,
  speed: number,
): EdgePiece[] {
  const observer = pointBefore(
    { setBackM },
    pointToward(headingOf(straight), design.listeningDistanceMm),
  );
  // The sharp outline: where on a round edge sound is bent matters less than which edge it is.
  const { solid, edgeOf } = frontSeenFrom(shape, { x, y });
  const pieces = piecesActing(solid, { x, y, radiusM }, observer, atHz, speed);
  // Against the direct sound, whose phase is the reference.
  return pieces.map(({ edge, from, to, re, im }) => {
    const metres = Math.hypot(to.x - from.x, to.y - from.y);
    return {
      edge: edgeOf[edge],
      from: { xMm: 1000 * from.x, yMm: 1000 * from.y },
      to: { xMm: 1000 * to.x, yMm: 1000 * to.y },
      perMetre: Math.hypot(re, im) / metres,
      inPhase: re / metres,
    };
  });
}
