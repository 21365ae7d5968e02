import type { StoreApi } from 'zustand/vanilla';

/** The part of the desk's state that this looks at. */
interface Predicted {
  readonly design: unknown;
  readonly prediction: unknown;
  readonly predictionFailure: string | null;
}

/** How long the rest of the screen waits for the curves. */
const patienceMs = 12;

/**
 * Tells listeners of changed state, in the order of what the eye waits for: after a change of the design the main
 * thread is left free for the new curves, which are only a few milliseconds away, and everything else is drawn after
 * them. Without curves in time it tells without them.
 */
export function curvesFirst<State extends Predicted>(
  store: StoreApi<State>,
): (listener: () => void) => () => void {
  const listeners = new Set<() => void>();
  let waiting: ReturnType<typeof setTimeout> | null = null;

  function tell(): void {
    if (waiting) clearTimeout(waiting);
    waiting = null;
    for (const listener of listeners) listener();
  }

  store.subscribe((state, before) => {
    const isAnswered =
      state.prediction !== before.prediction ||
      state.predictionFailure !== before.predictionFailure;
    if (isAnswered) tell();
    else if (state.design !== before.design) waiting ??= setTimeout(tell, patienceMs);
    else if (!waiting) tell();
  });
  return (listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  };
}
