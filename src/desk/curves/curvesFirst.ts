import type { StoreApi } from 'zustand/vanilla';

/** The part of the desk's state that this looks at. */
interface Predicted {
  readonly design: unknown;
  readonly prediction: unknown;
  readonly predictionFailure: string | null;
}

/** Longest wait for the curves, and for the picture of them. */
const maxCurveDelayMs = 12;
const maxPictureDelayMs = 40;

/** Runs something once the browser has shown what was drawn, or soon where it shows nothing. */
export function afterPicture(run: () => void): void {
  let isDone = false;
  const once = () => {
    if (isDone) return;
    isDone = true;
    clearTimeout(timer);
    run();
  };
  const timer = setTimeout(once, maxPictureDelayMs);
  // In the background no frames come.
  if (typeof requestAnimationFrame === 'function') requestAnimationFrame(() => setTimeout(once));
}

/** How views hear of changed state. */
export interface Told {
  readonly subscribe: (listener: () => void) => () => void;
  /** Tells at once what still waits for the curves: what comes next must start from it. */
  readonly catchUp: () => void;
}

/**
 * Tells listeners of changed state, React among them, after the curves. After a change of the
 * design the main thread is left free for the new curves, which are only a few milliseconds away
 * and go straight onto their canvases; everything else is drawn once these are on the screen.
 * Without curves in time it tells without them.
 */
export function curvesFirst<State extends Predicted>(
  store: StoreApi<State>,
  afterDrawn: (run: () => void) => void = afterPicture,
): Told {
  const listeners = new Set<() => void>();
  let waiting: ReturnType<typeof setTimeout> | null = null;
  let isDrawing = false;

  function tell(): void {
    if (waiting) clearTimeout(waiting);
    waiting = null;
    isDrawing = false;
    for (const listener of listeners) listener();
  }

  store.subscribe((state, before) => {
    if (state.prediction !== before.prediction) {
      if (waiting) clearTimeout(waiting);
      waiting = null;
      if (isDrawing) return;
      isDrawing = true;
      afterDrawn(tell);
    } else if (state.predictionFailure !== before.predictionFailure) tell();
    else if (isDrawing) return;
    else if (state.design !== before.design) waiting ??= setTimeout(tell, maxCurveDelayMs);
    else if (!waiting) tell();
  });
  return {
    subscribe: (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    catchUp: () => {
      if (waiting || isDrawing) tell();
    },
  };
}
