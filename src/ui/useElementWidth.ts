'use client';
import { useCallback, useState } from 'react';

/** Width of an element in CSS pixels, kept up to date; 0 before it is on the page. */
export function useElementWidth<T extends HTMLElement>(): [
  (element: T | null) => (() => void) | undefined,
  number,
] {
  const [widthPx, setWidthPx] = useState(0);
  const attach = useCallback((element: T | null) => {
    if (!element) return undefined;
    const observer = new ResizeObserver(([entry]) =>
      setWidthPx(Math.floor(entry.contentRect.width)),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [attach, widthPx];
}
