/**
 * Runs one job at a time. While one runs, only the newest request waits; older ones are dropped.
 *
 * @param run does the job; must not reject
 * @returns a function that asks for a job
 */
export function newestOnly<T>(run: (request: T) => Promise<void>): (request: T) => void {
  let isBusy = false;
  let waiting: { readonly request: T } | null = null;
  const start = async (request: T): Promise<void> => {
    isBusy = true;
    await run(request);
    isBusy = false;
    const next = waiting;
    waiting = null;
    if (next) void start(next.request);
  };
  return (request) => {
    if (isBusy) waiting = { request };
    else void start(request);
  };
}
