import { quarterWavesHz } from '@/core/box/modes';
import type { BoxPipe, BoxShell } from '@/core/document/boxSchema';
import { insideOf } from './shell';

/** A transmission line as a whole. */
export interface LineFacts {
  readonly lengthMm: number;
  readonly litres: number;
  /** Its lowest two resonances, quarter waves of an even one, without lining and the open end's correction, Hz. */
  readonly quarterHz: number;
  readonly threeQuartersHz: number;
  /** A third along: a driver there does not drive the second of them. */
  readonly thirdMm: number;
}

/** Length, volume and lowest resonances of a line. */
export function lineFacts({ segments }: BoxPipe, speedOfSound: number): LineFacts {
  const lengthMm = segments.reduce((sum, one) => sum + one.lengthMm, 0);
  const [quarterHz, threeQuartersHz] = quarterWavesHz(
    segments.map((one) => ({ lengthM: one.lengthMm / 1000, areaM2: one.areaCm2 / 1e4 })),
    2,
    speedOfSound,
  );
  return {
    ...{ lengthMm, quarterHz, threeQuartersHz },
    litres: segments.reduce((sum, one) => sum + (one.lengthMm * one.areaCm2) / 1e4, 0),
    thirdMm: lengthMm / 3,
  };
}

/** A board between two passes of a folded line. */
export interface Divider {
  readonly lengthMm: number;
  readonly widthMm: number;
  /** What is left open where the line turns. */
  readonly openMm: number;
}

/** Cross-section of a line so far along it. */
function areaCm2At(segments: BoxPipe['segments'], alongMm: number): number {
  let endMm = 0;
  for (const { lengthMm, areaCm2 } of segments) {
    endMm += lengthMm;
    if (alongMm <= endMm) return areaCm2;
  }
  return segments[segments.length - 1].areaCm2;
}

/**
 * Boards that fold a line into its box: passes along the longer of height and depth, as wide as the
 * inside, as thick as the walls; at each turn as much is left open as the line is wide there. None
 * where so many would not go in.
 */
export function dividersOf({ segments }: BoxPipe, shell: BoxShell): Divider[] {
  const { widthMm, heightMm, depthMm } = insideOf(shell);
  const passMm = Math.max(heightMm, depthMm);
  const lineMm = segments.reduce((sum, { lengthMm }) => sum + lengthMm, 0);
  const turns = Math.ceil(lineMm / passMm) - 1;
  if (!(widthMm > 0 && turns * shell.wallMm < Math.min(heightMm, depthMm))) return [];
  return Array.from({ length: turns }, (_, k): Divider => {
    const openMm = (areaCm2At(segments, (k + 1) * passMm) * 100) / widthMm;
    return { lengthMm: passMm - openMm, widthMm, openMm };
  }).filter(({ lengthMm }) => lengthMm > 0);
}
