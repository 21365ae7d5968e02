import type { PlayedWay } from '@/core/fitting/play/playback';

/** 1 as a way is, −1 turned round. */
export type Turns = ReadonlyMap<string, 1 | -1>;

/** Every polarity of some ways but the first; what they have first. */
export const turnsOf = ([first, ...others]: readonly string[]): Turns[] =>
  others.reduce<Turns[]>(
    (all, wayId) =>
      ([1, -1] as const).flatMap((sign) => all.map((one) => new Map([...one, [wayId, sign]]))),
    [new Map([[first, 1]])],
  );

/** Mean square deviation from the target, with some ways turned round. */
export function spreadWith(
  turns: Turns,
  ways: readonly PlayedWay[],
  places: Int32Array,
  target: Float64Array,
): number {
  let [sum, square] = [0, 0];
  for (const i of places) {
    let [re, im] = [0, 0];
    for (const { wayId, pressure } of ways) {
      re += turns.get(wayId)! * pressure.re[i];
      im += turns.get(wayId)! * pressure.im[i];
    }
    const db = 10 * Math.log10(re * re + im * im) - target[i];
    sum += db;
    square += db * db;
  }
  return square / places.length - (sum / places.length) ** 2;
}

/** Polarities, and how flat the response would be with them. */
export interface LikelyTurns {
  readonly turns: Turns;
  /** Mean square deviation on axis, dB². */
  readonly spread: number;
}
