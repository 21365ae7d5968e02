import { speedOfSoundMps } from '@/core/air/speedOfSound';
import type { Examination } from '@/core/insight/examine';
import type { Driver } from '@/core/document/schema';
import type { DepthOffset, DriverAlone } from '@/core/measurement/depthOffset';
import { endSlope } from '@/core/measurement/interpolate';
import type { Desk } from '@/desk/desk';

/** Slopes of a driver outside its data, dB per octave. */
export interface Slopes {
  readonly below: number;
  readonly above: number;
  /** Whether somebody wrote them down; otherwise they are guessed. */
  readonly isStated: boolean;
}

/**
 * Slopes of a driver outside its data: those that its tails state, else those of the outer octaves.
 */
export function tailsFor(desk: Desk, { responseId }: Driver): Slopes {
  const { measurements } = desk.store.getState().design;
  const tails = measurements
    .find(({ id }) => id === responseId)
    ?.recipe.find((step) => step.kind === 'tails');
  if (tails)
    return { below: tails.belowDbPerOctave, above: tails.aboveDbPerOctave, isStated: true };
  const samples = responseId === null ? undefined : desk.samples(responseId);
  if (!samples) return { below: 12, above: -12, isStated: false };
  // Below its resonance a driver falls by the second order at least; above, break-up and coil come
  // to about that, and the doubt of a whole order covers a coil alone, which makes 3 to 6 dB per
  // octave (common practice).
  const slope = (end: 'below' | 'above') =>
    6 * Math.round(endSlope(samples.frequencyHz, samples.magnitude, end) / 6);
  return {
    below: Math.min(24, Math.max(12, slope('below'))),
    above: Math.max(-24, Math.min(-12, slope('above'))),
    isStated: false,
  };
}

/** How far slopes may be off, dB per octave: guessed ones, and ones that somebody wrote down. */
const slopeDoubt = { guessed: 6, stated: 1 };

/** What three measurements say of the depth of two drivers, and what their timing says. */
export interface DepthAnswer {
  readonly found: DepthOffset;
  /** By the flight times in the data, mm; null without common timing. */
  readonly timingMm: number | null;
}

interface DepthQuestion {
  readonly first: Driver;
  readonly second: Driver;
  readonly sumId: string;
  readonly slopesOf: (driver: Driver) => Slopes;
}

/**
 * Asks the worker for the offset, with the three responses as their steps leave them.
 *
 * @returns null while numbers are missing
 * @throws ProblemError
 */
export async function findDepth(
  desk: Desk,
  { first, second, sumId, slopesOf }: DepthQuestion,
): Promise<DepthAnswer | null> {
  const { design } = desk.store.getState();
  const bench = desk.workbench();
  const ids = [first.responseId!, second.responseId!, sumId];
  const [one, other, both] = await Promise.all(ids.map((id) => bench.examine(design, id)));
  if (!one || !other || !both) return null;
  const alone = (examination: Examination, driver: Driver): DriverAlone => {
    const { below, above, isStated } = slopesOf(driver);
    return {
      samples: examination.conditioned.samples,
      tails: { belowDbPerOctave: below, aboveDbPerOctave: above },
      slopeDoubt: isStated ? slopeDoubt.stated : slopeDoubt.guessed,
    };
  };
  const [a, b] = [alone(one, first), alone(other, second)];
  const speed = speedOfSoundMps(design.airTemperatureC);
  // Under a gate the curves are no longer the drivers'.
  const fromHz = Math.max(
    ...[one, other, both].map(({ conditioned }) => 1.5 * conditioned.validFromHz),
  );
  const isCommon = [one, other].every(({ conditioned }) => conditioned.holdsDelay);
  const [found, timingMm] = await Promise.all([
    bench.depthOffset(a, b, both.conditioned.samples, speed, {
      fromHz: fromHz > 0 ? fromHz : undefined,
    }),
    isCommon ? bench.depthBetween(a, b, speed) : null,
  ]);
  return { found, timingMm };
}
