/** Place of the frequency that is nearest by ratio, in rising frequencies. */
export function nearestIndex(frequencyHz: ArrayLike<number>, hz: number): number {
  let best = 0;
  for (let i = 1; i < frequencyHz.length; i++)
    if (Math.abs(Math.log(frequencyHz[i] / hz)) < Math.abs(Math.log(frequencyHz[best] / hz)))
      best = i;
  return best;
}
