'use client';
import { useRouter } from 'next/navigation';
import { startTransition, useEffect, useState } from 'react';
import { Quiet } from '@/ui/sheets';

/** Between two questions whether the server is back. */
const askEveryMs = 1500;

/** Asks the server until it answers again, says what it waits for, and goes on by itself. */
export function WhenBack({ onBack }: { readonly onBack: () => void }) {
  const router = useRouter();
  const [waits, setWaits] = useState('the server');
  useEffect(() => {
    const timer = setInterval(() => {
      void fetch('/api/health', { cache: 'no-store' }).then(
        (response) => {
          if (!response.ok) {
            setWaits('its database');
            return;
          }
          clearInterval(timer);
          startTransition(() => {
            router.refresh();
            onBack();
          });
        },
        () => setWaits('the server'),
      );
    }, askEveryMs);
    return () => clearInterval(timer);
  }, [router, onBack]);
  return <Quiet role="status">Waiting for {waits} …</Quiet>;
}
