import { useSyncExternalStore } from 'react';

const never = () => () => undefined;

/** False on the server and in what it sent; true once the browser has taken the page over. */
export function useIsInBrowser(): boolean {
  return useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
}
