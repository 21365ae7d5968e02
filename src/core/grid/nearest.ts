/** Place of the frequency that is nearest by ratio, in rising frequencies. */
export function nearestIndex(frequencyHz: ArrayLike<number>, hz: number): number {
  let low = 0;
  let high = frequencyHz.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (frequencyHz[middle] <= hz) low = middle;
    else high = middle;
  }
  return hz * hz > frequencyHz[low] * frequencyHz[high] ? high : low;
}
