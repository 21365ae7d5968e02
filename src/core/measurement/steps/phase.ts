import { z } from 'zod';
import { problem } from '@/core/problem';
import { excessDelay } from '../excessDelay';
import { endSlope } from '../interpolate';
import { minimumPhase } from '../minimumPhase';
import { degreesOf } from './phases';
import { stepBase, stepKind, type Mark } from './step';

/** Minimum phase in the place of the measured one, with or without the measured delay. */
export const phase = stepKind({
  schema: z.strictObject({ ...stepBase, kind: z.literal('phase'), keepsDelay: z.boolean() }),
  name: 'Minimum phase',
  first: () => ({ keepsDelay: true }),
  apply({ keepsDelay }, state) {
    const { samples, tails: known, marks } = state;
    const { frequencyHz, magnitude } = samples;
    const tails = known ?? {
      belowDbPerOctave: endSlope(frequencyHz, magnitude, 'below'),
      aboveDbPerOctave: endSlope(frequencyHz, magnitude, 'above'),
    };
    const minimum = minimumPhase(frequencyHz, magnitude, tails);
    const guess = known
      ? ''
      : ` Slopes outside the data guessed as ${tails.belowDbPerOctave.toFixed(0)} and ${tails.aboveDbPerOctave.toFixed(0)} dB per octave: state them as tails.`;
    if (!samples.phaseDeg) {
      if (keepsDelay)
        throw problem(
          'no_delay',
          'phase',
          'There is no measured phase, so no delay to keep.',
          '',
          'Choose minimum phase without the delay.',
        );
      return {
        samples: { ...samples, phaseDeg: degreesOf(minimum, frequencyHz, 0) },
        holdsDelay: false,
        note: `Minimum phase; the path counts from the driver’s position.${guess}`,
      };
    }
    const band = measuredBand(frequencyHz, magnitude, marks);
    const { seconds, rmsDeg, fromHz, toHz, isReversed } = excessDelay(samples, tails, band);
    const turned = isReversed ? minimum.map((angle) => angle + Math.PI) : minimum;
    return {
      samples: {
        ...samples,
        phaseDeg: degreesOf(turned, frequencyHz, keepsDelay ? seconds : 0),
      },
      holdsDelay: state.holdsDelay && keepsDelay,
      note: `Excess delay ${(seconds * 1000).toFixed(3)} ms from ${fromHz.toFixed(0)} to ${toHz.toFixed(0)} Hz, ${rmsDeg.toFixed(1)}° rms off a pure delay${keepsDelay ? ', kept' : ', removed: the path counts from the driver’s position'}${isReversed ? '; polarity is reversed' : ''}.${guess}`,
    };
  },
});

/**
 * Where the driver is in use and nothing was drawn by hand, for the fit of a delay; undefined
 * leaves the choice to it.
 */
function measuredBand(hz: Float64Array, levelDb: Float64Array, marks: readonly Mark[]) {
  const tails = marks.filter(({ isTail }) => isTail);
  if (tails.length < 2) return undefined;
  const highest = levelDb.reduce((high, level) => Math.max(high, level), -Infinity);
  const used = [...hz.keys()].filter(
    (i) => levelDb[i] > highest - 10 && hz[i] > tails[0].toHz && hz[i] < tails[1].fromHz,
  );
  return used.length > 8 ? { fromHz: hz[used[0]], toHz: hz[used[used.length - 1]] } : undefined;
}
