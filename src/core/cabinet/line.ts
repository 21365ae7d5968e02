import { quarterWavesHz } from '@/core/box/modes';
import type { BoxPipe } from '@/core/document/boxSchema';

/** A transmission line as a whole. */
export interface LineFacts {
  readonly lengthMm: number;
  readonly litres: number;
  /** Its quarter wave and three quarters, without lining and the open end's correction, Hz. */
  readonly quarterHz: number;
  readonly threeQuartersHz: number;
  /** A third along: a driver there does not drive the second of them. */
  readonly thirdMm: number;
}

/** Length, volume and lowest resonances of a line. */
export function lineFacts({ segments }: BoxPipe, speedOfSound: number): LineFacts {
  const lengthMm = segments.reduce((sum, one) => sum + one.lengthMm, 0);
  const [quarterHz, threeQuartersHz] = quarterWavesHz(lengthMm / 1000, 2, speedOfSound);
  return {
    ...{ lengthMm, quarterHz, threeQuartersHz },
    litres: segments.reduce((sum, one) => sum + (one.lengthMm * one.areaCm2) / 1e4, 0),
    thirdMm: lengthMm / 3,
  };
}
