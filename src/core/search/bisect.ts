/**
 * Where a continuous function passes through zero, to the last bits of a double.
 *
 * @throws RangeError when it has the same sign at both ends
 */
export function bisect(of: (x: number) => number, low: number, high: number): number {
  const [atLow, atHigh] = [of(low), of(high)];
  if (atLow === 0) return low;
  if (atHigh === 0) return high;
  const rising = atHigh > 0;
  if (atLow > 0 === rising)
    throw new RangeError(`The function has the same sign at ${low} and ${high}.`);
  let [a, b] = [low, high];
  for (;;) {
    const middle = (a + b) / 2;
    if (middle === a || middle === b) return middle;
    if (of(middle) > 0 === rising) b = middle;
    else a = middle;
  }
}
