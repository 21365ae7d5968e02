import { useSyncExternalStore } from 'react';

let version = 0;

/** Tells when the light or the dark theme comes: by the page's own switch, or by the system's. */
function subscribe(tell: () => void): () => void {
  const changed = () => {
    version++;
    tell();
  };
  const system = matchMedia('(prefers-color-scheme: dark)');
  const page = new MutationObserver(changed);
  system.addEventListener('change', changed);
  page.observe(document.documentElement, { attributes: true });
  return () => {
    system.removeEventListener('change', changed);
    page.disconnect();
  };
}

/** Rises with each change of the theme. */
export const useThemeVersion = (): number =>
  useSyncExternalStore(
    subscribe,
    () => version,
    () => 0,
  );
