/** Place of the first frequency that is no lower, in rising ones; their number where all are lower. */
export function firstIndexFrom(frequencyHz: ArrayLike<number>, hz: number): number {
  let [low, high] = [0, frequencyHz.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (frequencyHz[middle] < hz) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Place of the frequency that is nearest by ratio, in rising frequencies. */
export function nearestIndex(frequencyHz: ArrayLike<number>, hz: number): number {
  const high = Math.min(firstIndexFrom(frequencyHz, hz), frequencyHz.length - 1);
  const low = Math.max(0, high - 1);
  return hz * hz > frequencyHz[low] * frequencyHz[high] ? high : low;
}
