import { useCallback, useSyncExternalStore } from 'react';

/** Tells all that show a stored value when one of them changes it. */
const changed = new EventTarget();

/**
 * A number that this browser remembers, such as the width of a pane; until it was set, the usual
 * one.
 */
export function useStoredNumber(key: string, usual: number): [number, (value: number) => void] {
  const subscribe = useCallback(
    (tell: () => void) => {
      changed.addEventListener(key, tell);
      return () => changed.removeEventListener(key, tell);
    },
    [key],
  );
  const value = useSyncExternalStore(
    subscribe,
    () => {
      const stored = Number(localStorage.getItem(key) ?? NaN);
      return Number.isFinite(stored) ? stored : usual;
    },
    () => usual,
  );
  const set = useCallback(
    (next: number) => {
      localStorage.setItem(key, String(next));
      changed.dispatchEvent(new Event(key));
    },
    [key],
  );
  return [value, set];
}
