import { loopReference } from '@/core/measurement/capture';
import { decibels } from '@/core/spectrum/level';
import type { FileBytes } from './importMeasurement';
import { writeWav, type Sound } from './wav';

/** What was played and recorded through a sound device. */
export interface Capture {
  readonly name: string;
  readonly sweep: Float64Array;
  readonly recorded: Sound;
  /** Whether the second channel is the output, looped back. */
  readonly hasLoop: boolean;
}

/** A capture as the two WAV files that any measuring program would have written. */
interface CaptureFiles {
  /** The reference first. */
  readonly files: readonly FileBytes[];
  /** Peak of the reference, dB re full scale: what a level in the response is relative to. */
  readonly referenceDb: number;
}

/**
 * The reference is the sweep that was played or, with a loop-back, what the second channel heard of
 * it.
 */
export function captureFiles({ name, sweep, recorded, hasLoop }: Capture): CaptureFiles {
  const { sampleRateHz, channels } = recorded;
  const reference = hasLoop ? loopReference(channels[1], sweep, sampleRateHz) : sweep;
  const wav = (samples: Float64Array) => writeWav({ sampleRateHz, channels: [samples] });
  let peak = 0;
  for (const value of reference) peak = Math.max(peak, Math.abs(value));
  return {
    files: [
      { name: `${name} sweep.wav`, bytes: wav(reference) },
      { name: `${name}.wav`, bytes: wav(channels[0]) },
    ],
    referenceDb: decibels(peak),
  };
}
