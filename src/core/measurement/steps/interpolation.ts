import { z } from 'zod';
import { hertz } from '@/core/fields';
import { problem } from '@/core/problem';
import { interpolated } from '../interpolate';
import { degreesOf, smoothPhase } from './phases';
import { stepBase, stepKind } from './step';

/** A stretch that is an artefact of the room or the rig, with a straight line in its place. */
export const interpolation = stepKind({
  schema: z.strictObject({
    ...stepBase,
    kind: z.literal('bridge'),
    fromHz: hertz,
    toHz: hertz,
    reason: z.string().trim().min(1).max(120),
  }),
  name: 'Interpolation',
  first: () => ({
    fromHz: 900,
    toHz: 1100,
    reason: 'an artefact of the room',
  }),
  apply({ fromHz, toHz, reason }, { samples, marks }) {
    const { frequencyHz, magnitude, phaseDeg } = samples;
    const last = frequencyHz.length - 1;
    if (!(fromHz < toHz) || fromHz <= frequencyHz[0] || toHz >= frequencyHz[last])
      throw problem(
        'bridge_outside',
        `${fromHz} to ${toHz} Hz`,
        'This stretch can’t be interpolated.',
        'It needs measured points on both sides.',
        'Use tails for the ends, and give the lower frequency first.',
      );
    const ends = Float64Array.of(fromHz, toHz);
    /** Straight on log frequency between the two ends. */
    const straightened = (values: Float64Array) => {
      const [from, to] = interpolated(frequencyHz, values, ends);
      return values.map((value, i) =>
        frequencyHz[i] > fromHz && frequencyHz[i] < toHz
          ? from + ((to - from) * Math.log(frequencyHz[i] / fromHz)) / Math.log(toHz / fromHz)
          : value,
      );
    };
    const smooth = phaseDeg && smoothPhase(samples);
    return {
      samples: {
        frequencyHz,
        magnitude: straightened(magnitude),
        phaseDeg: smooth && degreesOf(straightened(smooth.rest), frequencyHz, smooth.delaySeconds),
      },
      marks: [...marks, { fromHz, toHz, reason, isTail: false }],
      note: `Not measured here: ${reason}.`,
    };
  },
});
