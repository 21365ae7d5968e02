/** Progress is told this often, ms. */
const tellEveryMs = 100;

/**
 * Runs a search to its end, telling its progress now and then.
 *
 * @param search yields its progress, and returns what it found
 */
export function toldRun<P, R>(search: Generator<P, R>, tell: (progress: P) => void): R {
  let toldMs = -Infinity;
  for (;;) {
    const step = search.next();
    if (step.done) return step.value;
    if (performance.now() - toldMs < tellEveryMs) continue;
    toldMs = performance.now();
    tell(step.value);
  }
}
