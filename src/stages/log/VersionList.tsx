'use client';
import { Pin } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Input, ListBox, ListBoxItem, SearchField } from 'react-aria-components';
import styled from 'styled-components';
import type { VersionSummary } from '@/core/log/log';
import { mainLine } from '@/core/document/schema';
import { fieldLook } from '@/ui/fields/field';
import { Quiet } from '@/ui/sheets';
import { dayOf, matches, timeOf, titleOf } from './logWords';
import { Thumbnail } from '@/ui/chart/Thumbnail';

interface VersionListProps {
  readonly versions: readonly VersionSummary[] | null;
  readonly chosen: number | null;
  /** Revision that is pinned. */
  readonly pinned: number | null;
  readonly onChoose: (number: number) => void;
}

/** All versions, the newest first, with a search over everything that was written. */
export function VersionList({ versions, chosen, pinned, onChoose }: VersionListProps) {
  const [query, setQuery] = useState('');
  const found = useMemo(
    () => (versions ?? []).filter((version) => matches(version, query)),
    [versions, query],
  );
  return (
    <Column aria-label="Versions">
      <h2>Log</h2>
      <SearchField aria-label="Search the log" value={query} onChange={setQuery}>
        <Input placeholder="Search notes, changes, impressions" />
      </SearchField>
      <List
        aria-label="Versions"
        items={found.map((version) => ({ id: version.number, version }))}
        selectionMode="single"
        selectionBehavior="replace"
        disallowEmptySelection
        selectedKeys={chosen === null ? [] : [chosen]}
        onSelectionChange={(keys) => {
          if (keys === 'all') return;
          const [key] = keys;
          if (key !== undefined) onChoose(Number(key));
        }}
        renderEmptyState={() => (
          <Quiet>{versions === null ? 'Reading the log …' : 'Nothing in the log says that.'}</Quiet>
        )}
      >
        {({ version }) => {
          const { number, variant, startedAt, endedAt, figures, firstRevision, lastRevision } =
            version;
          const judged = figures?.promises.filter(({ isKept }) => isKept !== null) ?? [];
          const kept = judged.filter(({ isKept }) => isKept);
          return (
            <ListBoxItem id={number} textValue={`v${number} ${titleOf(version)}`}>
              <Head>
                <b>v{number}</b>
                <span>
                  {dayOf(startedAt)}, {timeOf(startedAt)}
                  {timeOf(startedAt) === timeOf(endedAt) ? '' : `–${timeOf(endedAt)}`}
                </span>
                {pinned !== null && pinned >= firstRevision && pinned <= lastRevision && (
                  <Pin size={12} aria-label="pinned" />
                )}
                {variant !== mainLine && <em>{variant}</em>}
              </Head>
              <p>{titleOf(version)}</p>
              <Foot>
                {figures && <Thumbnail levels={figures.thumbnail} />}
                <span>
                  {judged.length > 0 && `${kept.length} of ${judged.length} kept`}
                  {version.note !== '' && ', note'}
                  {version.impressions.length > 0 && `, ${version.impressions.length} heard`}
                </span>
              </Foot>
            </ListBoxItem>
          );
        }}
      </List>
    </Column>
  );
}

const Column = styled.nav`
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr);
  gap: 0.6rem;
  min-height: 0;
  padding: 0.9rem 0 0 1rem;
  border-right: 1px solid ${({ theme }) => theme.colour.rule};
  input {
    ${fieldLook}
    width: calc(100% - 1rem);
  }
`;

const List = styled(ListBox<{ id: number; version: VersionSummary }>)`
  overflow-y: auto;
  padding-bottom: 1rem;
  [role='option'] {
    padding: 0.4rem 0.6rem;
    border-left: 3px solid transparent;
    border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
    cursor: pointer;
    font-size: ${({ theme }) => theme.size.small};
    outline-offset: -2px;
    &[data-selected] {
      background: ${({ theme }) => theme.colour.accentWash};
      border-left-color: ${({ theme }) => theme.colour.accent};
    }
    p {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      font-size: 0.8125rem;
    }
  }
`;

const Head = styled.div`
  display: flex;
  gap: 0.5rem;
  align-items: center;
  color: ${({ theme }) => theme.colour.quiet};
  b {
    color: ${({ theme }) => theme.colour.ink};
  }
  em {
    margin-left: auto;
    font-style: normal;
    border: 1px solid ${({ theme }) => theme.colour.rule};
    border-radius: 1em;
    padding: 0 0.5em;
    max-width: 8em;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
`;

const Foot = styled.div`
  display: flex;
  gap: 0.6rem;
  align-items: center;
  color: ${({ theme }) => theme.colour.quiet};
  min-height: 1.1rem;
`;
