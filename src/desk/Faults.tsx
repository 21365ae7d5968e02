'use client';
import { useEffect, useState } from 'react';
import { messageOf } from '@/core/problem';
import { TextButton } from '@/ui/Button';
import { Note } from '@/ui/sheets';

const mostShown = 3;

/** What a stopped request or computation is called; nobody needs to hear of it. */
const isAbort = (reason: unknown) => reason instanceof DOMException && reason.name === 'AbortError';

/** Whatever was begun and failed without anybody else saying so: no action ends without a word. */
export function Faults() {
  const [faults, setFaults] = useState<readonly { id: number; text: string }[]>([]);
  useEffect(() => {
    let count = 0;
    const take = (event: PromiseRejectionEvent) => {
      const reason: unknown = event.reason;
      if (isAbort(reason)) return;
      const text = messageOf(reason);
      setFaults((all) =>
        all.some((one) => one.text === text)
          ? all
          : [...all, { id: count++, text }].slice(-mostShown),
      );
    };
    window.addEventListener('unhandledrejection', take);
    return () => window.removeEventListener('unhandledrejection', take);
  }, []);
  return faults.map(({ id, text }) => (
    <Note key={id} $kind="alarm" role="alert">
      Something that was begun could not be done: {text}{' '}
      <TextButton onPress={() => setFaults((all) => all.filter((one) => one.id !== id))}>
        Close
      </TextButton>
    </Note>
  ));
}
