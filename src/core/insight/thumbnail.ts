import type { Prediction } from '@/core/prediction/prediction';

const points = 64;

/**
 * The sum at 64 frequencies from 20 Hz to 20 kHz, to a tenth of a decibel: enough to recognise a
 * version by.
 */
export function thumbnailOf({ frequencyHz, sum }: Prediction): (number | null)[] {
  if (!sum) return [];
  return Array.from({ length: points }, (_, k) => {
    const i = Math.round((k * (frequencyHz.length - 1)) / (points - 1));
    return Number.isFinite(sum.levelDb[i]) ? Math.round(sum.levelDb[i] * 10) / 10 : null;
  });
}
