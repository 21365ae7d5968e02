import type { Brief, Yielding } from '@/core/document/briefSchema';
import { drives } from '@/core/document/programme';
import type { Option } from '@/ui/fields/Choice';

type Chosen<K extends keyof Brief> = NonNullable<Brief[K]> & string;

export const purposes: readonly Option<Chosen<'purpose'>>[] = [
  { id: 'music', text: 'listening to music' },
  { id: 'film', text: 'watching films' },
  { id: 'desk', text: 'a desk' },
  { id: 'mixing', text: 'mixing' },
  { id: 'outdoors', text: 'the open air' },
];

export const places: readonly Option<Chosen<'place'>>[] = [
  { id: 'free', text: 'free in the room' },
  { id: 'near-wall', text: 'near a wall' },
  { id: 'on-desk', text: 'on a desk' },
  { id: 'in-cabinet', text: 'in a cabinet or shelf' },
];

export const programmes: readonly Option<Chosen<'programme'>>[] = (
  ['overdriven', 'full', 'music'] as const
).map((id) => ({ id, text: drives[id].name }));

export const carpentries: readonly Option<Chosen<'carpentry'>>[] = [
  { id: 'straight-cuts', text: 'straight cuts and a drill' },
  { id: 'router', text: 'a router as well' },
  { id: 'curves', text: 'curves and veneer' },
];

export const yieldings: Readonly<Record<Yielding, string>> = {
  size: 'size: a larger cabinet',
  reach: 'F3: less bass',
  loudness: 'loudness: quieter',
  money: 'money: it may cost more',
  evenness: 'flatness: a larger deviation from the target',
};
