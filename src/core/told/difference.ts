import type { Item, Named } from './item';
import { boxes } from './boxes';
import { formatNumber } from '@/core/units/quantity';
import { isSameDesign } from '@/core/document/sameDesign';
import { type Design } from '@/core/document/schema';
import { cutText } from '@/core/text';
import { drivers, panels } from './drivers';
import { fieldWords } from './fieldWords';
import { measurements } from './measurements';
import { couplingKey, couplings, parts, ways } from './network';
import { answers, promises, settings, target } from './settings';

/** One thing in which two designs differ, in words. */
export interface Difference {
  readonly about:
    | 'part'
    | 'way'
    | 'driver'
    | 'baffle'
    | 'box'
    | 'answer'
    | 'target'
    | 'promise'
    | 'measurement'
    | 'setting';
  /** What differs: a part's name, a question. */
  readonly what: string;
  /** As it is in the first and in the second; null where it is not there. */
  readonly before: string | null;
  readonly after: string | null;
}

/**
 * Differences between two designs, parts first. Things are told apart by their ids, so that two of
 * one name are two; what differs without words of its own is told by its place in the document.
 * Documents that differ are always said to differ.
 */
export function differences(before: Design, after: Design): Difference[] {
  return [
    ...compare('part', parts(before), parts(after)),
    ...compare('part', couplings(before), couplings(after)),
    ...compare('way', ways(before), ways(after)),
    ...compare('driver', drivers(before), drivers(after)),
    ...compare('baffle', panels(before), panels(after)),
    ...compare('box', boxes(before), boxes(after)),
    ...compare('answer', answers(before.brief), answers(after.brief)),
    ...compare('setting', settings(before), settings(after)),
    ...compare('target', target(before), target(after)),
    ...compare('measurement', measurements(before), measurements(after)),
    ...compare('promise', promises(before), promises(after)),
    ...orders(before, after),
  ];
}

function compare(
  about: Difference['about'],
  before: readonly Item[],
  after: readonly Item[],
): Difference[] {
  const [was, is] = [before, after].map((items) => new Map(items.map((item) => [item.key, item])));
  const keys = new Set([...was.keys(), ...is.keys()]);
  const found = [...keys].flatMap((key): Difference[] => {
    const [first, second] = [was.get(key), is.get(key)];
    if (!first || !second)
      return [
        {
          about,
          what: (first ?? second)!.what,
          before: first?.text ?? null,
          after: second?.text ?? null,
        },
      ];
    if (isSameDesign(first.raw, second.raw)) return [];
    const { what } = second;
    if (first.text !== second.text)
      return [{ about, what, before: first.text, after: second.text }];
    const [earlier, later] = leafWords(first.raw, second.raw);
    return [{ about, what, before: earlier, after: later }];
  });
  return replaced(found);
}

/** What went and came under one name, such as another C4, is one difference. */
function replaced(found: readonly Difference[]): Difference[] {
  const came = new Map(found.flatMap((one) => (one.before === null ? [[one.what, one]] : [])));
  const isReplacement = new Set<Difference>();
  const joined = found.map((one) => {
    const successor = one.after === null ? came.get(one.what) : undefined;
    if (!successor || one.before === null) return one;
    isReplacement.add(successor);
    return { ...one, after: successor.after };
  });
  return joined.filter((one) => !isReplacement.has(one));
}

/** Leaves in which two values differ, on each side: the fallback for what has no sentence. */
function leafWords(before: unknown, after: unknown): [before: string, after: string] {
  const pairs = [...leaves(before, after, [])].slice(0, 4);
  const told = (side: 0 | 1) =>
    pairs
      .map(({ path, values }) => {
        const named = path.filter((key) => !/^\d+$/.test(key)).map(fieldWords);
        return `${named.join(' ') || 'value'} ${plain(values[side])}`;
      })
      .join(', ');
  return [told(0), told(1)];
}

interface Leaf {
  readonly path: readonly string[];
  readonly values: readonly [unknown, unknown];
}

function* leaves(a: unknown, b: unknown, path: readonly string[]): Generator<Leaf> {
  if (isSameDesign(a, b)) return;
  const isTree = (value: unknown): value is Record<string, unknown> =>
    typeof value === 'object' && value !== null;
  if (!isTree(a) || !isTree(b)) {
    yield { path, values: [a, b] };
    return;
  }
  for (const key of new Set([...Object.keys(a), ...Object.keys(b)]))
    yield* leaves(a[key], b[key], [...path, key]);
}

function plain(value: unknown): string {
  if (value === undefined || value === null) return 'not stated';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') return formatNumber(value, 6);
  return typeof value === 'string' ? value : cutText(JSON.stringify(value), 80);
}

/** Lists whose order counts, compared by what both have. */
function orders(before: Design, after: Design): Difference[] {
  const lists: readonly [Difference['about'], string, (design: Design) => readonly Named[]][] = [
    ['way', 'order of the ways', ({ ways: all }) => all],
    ['driver', 'order of the drivers', ({ drivers: all }) => all],
    ['baffle', 'order of the panels', ({ panels: all }) => all],
    ['box', 'order of the boxes', ({ boxes: all }) => all],
    ['measurement', 'order of the measurements', ({ measurements: all }) => all],
    [
      'promise',
      'order of the promises',
      ({ promises: all }) => all.map(({ id, kind }) => ({ id, name: kind })),
    ],
    ['setting', 'order of the terminals', ({ terminals: all }) => all],
    ['setting', 'order of the switches', ({ switches: all }) => all],
    ['part', 'order of the bridges', ({ bridges: all }) => all.map(({ part }) => part)],
    [
      'part',
      'order of the couplings',
      ({ couplings: all }) =>
        all.map(({ partA, partB }) => ({ id: couplingKey(partA, partB), name: '' })),
    ],
  ];
  return lists.flatMap(([about, what, list]): Difference[] => {
    const [was, is] = [list(before), list(after)];
    const common = (items: readonly Named[], others: readonly Named[]) =>
      items.filter(({ id }) => others.some((other) => other.id === id));
    const told = (items: readonly Named[]) => items.map(({ name }) => name).join(', ');
    const [first, second] = [common(was, is), common(is, was)];
    return first.every(({ id }, i) => id === second[i].id)
      ? []
      : [{ about, what, before: told(first), after: told(second) }];
  });
}
