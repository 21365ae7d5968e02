'use client';
import { useCallback, useState } from 'react';

type Attach<T> = (element: T | null) => (() => void) | undefined;

interface Size {
  readonly widthPx: number;
  readonly heightPx: number;
}

/** Size of an element in CSS pixels, kept up to date; 0 before it is on the page. */
export function useElementSize<T extends HTMLElement>(): [Attach<T>, Size] {
  const [size, setSize] = useState<Size>({ widthPx: 0, heightPx: 0 });
  const attach = useCallback((element: T | null) => {
    if (!element) return undefined;
    const observer = new ResizeObserver(([{ contentRect }]) =>
      setSize({
        widthPx: Math.floor(contentRect.width),
        heightPx: Math.floor(contentRect.height),
      }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [attach, size];
}

/** Width of an element in CSS pixels, kept up to date; 0 before it is on the page. */
export function useElementWidth<T extends HTMLElement>(): [Attach<T>, number] {
  const [attach, { widthPx }] = useElementSize<T>();
  return [attach, widthPx];
}
