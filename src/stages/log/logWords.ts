import type { VersionReason, VersionSummary } from '@/core/log/log';

const reasons: Readonly<Record<VersionReason, string>> = {
  begin: 'the beginning',
  pause: 'after a pause',
  named: 'after a named version',
  import: 'before an import',
  fit: 'before a fit',
  variant: 'another variant',
  'go-back': 'gone back',
};

export const reasonWords = (reason: VersionReason) => reasons[reason];

const time = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

export const dayOf = (iso: string) => day.format(new Date(iso));
export const timeOf = (iso: string) => time.format(new Date(iso));

/** Name of a version: its own, or what was done in it. */
export function titleOf({ name, labels, reason }: VersionSummary): string {
  if (name !== null) return name;
  return labels.length === 0 ? reasonWords(reason) : labels.slice(-3).join(', ');
}

/** Whether all words of a search are somewhere in a version. */
export function matches(version: VersionSummary, query: string): boolean {
  const text = [
    `v${version.number}`,
    version.variant,
    version.name ?? '',
    version.note,
    dayOf(version.endedAt),
    ...version.labels,
    ...version.impressions.flatMap(({ heard, where, programme, company }) => [
      heard,
      where,
      programme,
      company,
    ]),
  ]
    .join(' ')
    .toLowerCase();
  return query
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}
