import { useEffect, useRef } from 'react';

/**
 * Calls `take`, as it was last drawn, when the view or the page that it is in goes away: on the way
 * back in the browser or when the page is loaded anew, no field is told that it was left.
 */
export function useAtEnd(take: () => void): void {
  const atEnd = useRef(take);
  useEffect(() => {
    atEnd.current = take;
  });
  useEffect(() => {
    const end = () => atEnd.current();
    window.addEventListener('beforeunload', end);
    return () => {
      window.removeEventListener('beforeunload', end);
      end();
    };
  }, []);
}
