/** How measured times are told. */
export const say = (label: string, value: string) => console.log(`${label.padEnd(62)} ${value}`);

/** Milliseconds in microseconds. */
export const micro = (ms: number) => `${(ms * 1000).toFixed(2)} µs`;

/** Median and 95th percentile of `count` timings in milliseconds, after a warm-up. */
export function timings(run: () => void, count: number): { medianMs: number; p95Ms: number } {
  for (let i = 0; i < count / 4; i++) run();
  const times = Array.from({ length: count }, () => {
    const start = performance.now();
    run();
    return performance.now() - start;
  }).sort((a, b) => a - b);
  return { medianMs: times[count >> 1], p95Ms: times[Math.floor(count * 0.95)] };
}
