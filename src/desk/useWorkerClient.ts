'use client';
import { useEffect, useState } from 'react';

/**
 * Workers for a screen, as long as it is open; null before they are there.
 *
 * @param create starts them; the same function at every call
 */
export function useWorkerClient<T extends { close(): void }>(create: () => T): T | null {
  const [client, setClient] = useState<T | null>(null);
  useEffect(() => {
    const started = create();
    const timer = setTimeout(() => setClient(started), 0);
    return () => {
      clearTimeout(timer);
      started.close();
    };
  }, [create]);
  return client;
}
