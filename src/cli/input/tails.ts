import type { Tails } from '@/core/measurement/minimumPhase';
import { problem } from '@/core/problem';
import { numberOption } from '../command';

export const tailOptions = {
  'slope-below': { type: 'string' },
  'slope-above': { type: 'string' },
} as const;

export const tailHelp = `  --slope-below S     slope below the data, dB per octave with rising frequency
                      (second-order high pass: 12)
  --slope-above S     slope above the data (fourth-order low pass: -24)`;

/** The slopes outside the data; both must be given, because the result rests on them. */
export function readTails(
  command: string,
  values: { readonly 'slope-below'?: string; readonly 'slope-above'?: string },
): Tails {
  const slope = (name: 'slope-below' | 'slope-above') => {
    const text = values[name];
    if (text === undefined)
      throw problem(
        'usage',
        `fair ${command}`,
        `--${name} is missing.`,
        'A minimum phase depends on what lies outside the data.',
        'Give the slope in dB per octave, e.g. --slope-below 12 --slope-above -24.',
      );
    return numberOption(command, name, text);
  };
  return { belowDbPerOctave: slope('slope-below'), aboveDbPerOctave: slope('slope-above') };
}
