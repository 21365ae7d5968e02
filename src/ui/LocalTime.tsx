'use client';
import { useIsInBrowser } from './useIsInBrowser';

const local = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

/** A moment in the reader's own time; on the server, which does not know it, in UTC. */
export function LocalTime({ iso }: { readonly iso: string }) {
  const isHere = useIsInBrowser();
  const text = isHere ? local.format(new Date(iso)) : `${iso.slice(0, 16).replace('T', ' ')} UTC`;
  return <time dateTime={iso}>{text}</time>;
}
