import { z } from 'zod';
import { hertz } from '@/core/fields';
import { logGrid } from '@/core/grid/logGrid';
import { problem } from '@/core/problem';
import { endSlope, interpolated } from '../interpolate';
import { degreesOf, smoothPhase } from './phases';
import { perOctave, stepBase, stepKind } from './step';

const slope = z.number().min(-120).max(120);
/** Slopes of filters and boxes come in these steps, dB per octave. */
const slopeStep = 6;

/** Straight lines in the place of what lies beyond two frequencies, mostly noise. */
export const tails = stepKind({
  schema: z.strictObject({
    ...stepBase,
    kind: z.literal('tails'),
    belowHz: hertz,
    belowDbPerOctave: slope,
    aboveHz: hertz,
    aboveDbPerOctave: slope,
  }),
  name: 'Tails',
  first({ frequencyHz, magnitude }) {
    const [lowest, highest] = [frequencyHz[0], frequencyHz[frequencyHz.length - 1]];
    const usual = (side: 'below' | 'above') =>
      slopeStep * Math.round(endSlope(frequencyHz, magnitude, side) / slopeStep);
    return {
      belowHz: Math.max(2 * lowest, 20),
      belowDbPerOctave: Math.max(0, usual('below')),
      aboveHz: Math.min(highest / 1.1, 20_000),
      aboveDbPerOctave: Math.min(0, usual('above')),
    };
  },
  apply(step, { samples, marks }) {
    const { belowHz, belowDbPerOctave, aboveHz, aboveDbPerOctave } = step;
    const { frequencyHz, magnitude } = samples;
    const last = frequencyHz.length - 1;
    if (!(belowHz < aboveHz) || belowHz < frequencyHz[0] || aboveHz > frequencyHz[last])
      throw problem(
        'tails_outside',
        `${belowHz} and ${aboveHz} Hz`,
        'The tails don’t begin inside the data.',
        `They reach from ${frequencyHz[0].toFixed(1)} to ${frequencyHz[last].toFixed(0)} Hz.`,
        'Give two frequencies inside them, the lower first.',
      );
    const [low, high] = interpolated(frequencyHz, magnitude, Float64Array.of(belowHz, aboveHz));
    // Beyond the data the curve goes on, so that the prediction does not end with them.
    const [from, to] = [Math.min(10, frequencyHz[0]), Math.max(40_000, frequencyHz[last])];
    const all = Float64Array.from([
      ...logGrid(from, to, perOctave).filter((hz) => hz < frequencyHz[0] * 0.999),
      ...frequencyHz,
      ...logGrid(from, to, perOctave).filter((hz) => hz > frequencyHz[last] * 1.001),
    ]);
    const levels = interpolated(frequencyHz, magnitude, all);
    const smooth = samples.phaseDeg && smoothPhase(samples);
    return {
      samples: {
        frequencyHz: all,
        magnitude: levels.map((level, i) =>
          all[i] < belowHz
            ? low + belowDbPerOctave * Math.log2(all[i] / belowHz)
            : all[i] > aboveHz
              ? high + aboveDbPerOctave * Math.log2(all[i] / aboveHz)
              : level,
        ),
        phaseDeg:
          smooth &&
          degreesOf(interpolated(frequencyHz, smooth.rest, all), all, smooth.delaySeconds),
      },
      marks: [
        ...marks,
        { fromHz: all[0], toHz: belowHz, reason: 'a tail', isTail: true },
        { fromHz: aboveHz, toHz: all[all.length - 1], reason: 'a tail', isTail: true },
      ],
      tails: { belowDbPerOctave, aboveDbPerOctave },
      note: `Straight lines below ${belowHz.toFixed(0)} Hz and above ${aboveHz.toFixed(0)} Hz.`,
    };
  },
});
