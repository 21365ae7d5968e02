'use client';
import { useSyncExternalStore } from 'react';

const local = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
const never = () => () => undefined;

/** A moment in the reader's own time; on the server, which does not know it, in UTC. */
export function LocalTime({ iso }: { readonly iso: string }) {
  const text = useSyncExternalStore(
    never,
    () => local.format(new Date(iso)),
    () => `${iso.slice(0, 16).replace('T', ' ')} UTC`,
  );
  return <time dateTime={iso}>{text}</time>;
}
