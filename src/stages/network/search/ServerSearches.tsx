'use client';
import styled from 'styled-components';
import type { ServerSearch } from '@/core/exploration/serverSearch';
import { TextButton } from '@/ui/Button';
import { ProgressBarWithStop } from '@/ui/ProgressBarWithStop';
import { Note, Quiet } from '@/ui/sheets';

interface ServerSearchesProps {
  readonly searches: readonly ServerSearch[];
  readonly trouble: string | null;
  readonly onShow: (search: ServerSearch) => void;
  readonly onStop: (id: string) => void;
  readonly onGoOn: (id: string) => void;
}

const states = { running: '', done: 'done', stopped: 'stopped', failed: 'failed' } as const;
const began = (iso: string) =>
  new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

/** Searches that go on without this page, and what they have found. */
export function ServerSearches({ searches, trouble, onShow, onStop, onGoOn }: ServerSearchesProps) {
  return (
    <>
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
      {searches.length > 0 && (
        <>
          <h3>On the server</h3>
          <List aria-label="Searches on the server">
            {searches.map((search) => {
              const { id, state, limits, stageName, stageDone, stageCount, tried } = search;
              const count = search.networks?.length ?? 0;
              return (
                <li key={id}>
                  <p>
                    {began(search.createdAt)}, at most {limits.mostParts} parts: {states[state]}
                    {tried > 0 && ` ${tried.toLocaleString('en')} networks fitted`}
                    {count > 0 && (
                      <>
                        ,{' '}
                        <TextButton
                          aria-label={`Show the ${count} networks found by the search of ${began(search.createdAt)}`}
                          onPress={() => onShow(search)}
                        >
                          show {count}
                        </TextButton>
                      </>
                    )}
                  </p>
                  {state === 'running' && (
                    <>
                      <ProgressBarWithStop
                        name="Searching on the server"
                        percent={stageCount === 0 ? 0 : Math.round((100 * stageDone) / stageCount)}
                        onStop={() => onStop(id)}
                      />
                      <Quiet aria-live="polite">
                        {stageName}
                        {stageCount > 0 && `: ${stageDone} of ${stageCount}`}
                      </Quiet>
                    </>
                  )}
                  {search.trouble !== null && (
                    <Note $kind="alarm">
                      {search.trouble} The best so far is kept.{' '}
                      {search.canGoOn && (
                        <TextButton onPress={() => onGoOn(id)}>Go on without them</TextButton>
                      )}
                    </Note>
                  )}
                </li>
              );
            })}
          </List>
        </>
      )}
    </>
  );
}

const List = styled.ul`
  display: grid;
  gap: 0.6rem;
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 0.8125rem;
`;
