'use client';
import { useEffect, useState } from 'react';
import styled from 'styled-components';
import { figuresOf } from '@/core/promises/figuresOf';
import { setFigures } from '@/desk/api';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Note, Quiet } from '@/ui/sheets';
import { Comparison } from './Comparison';
import { useLog, useStates } from '@/desk/useLog';
import { VariantTable } from './VariantTable';
import { VersionList } from './VersionList';
import { VersionSheet } from './VersionSheet';

/** What was changed, why, and whether it was better. */
export function Log() {
  const desk = useDesk();
  const log = useLog();
  const stateAt = useStates();
  const [chosen, setChosen] = useState<number | null>(null);
  const pinned = useDeskState((state) => state.pinned?.revision ?? null);
  const { versions, trouble } = log;
  const version = versions?.find(({ number }) => number === chosen) ?? versions?.at(0);
  const { reload } = log;
  useEffect(() => {
    // A version saved without curves at hand, such as the first one, gets its figures when it is
    // looked at.
    if (!version || version.figures) return;
    void stateAt(version.lastRevision)
      .then(({ prediction, judged }) =>
        setFigures(desk.projectId, version.number, figuresOf(prediction, judged)),
      )
      .then(reload)
      // Figures are worked out again at the next look.
      .catch(() => undefined);
  }, [desk, version, stateAt, reload]);
  return (
    <Layout>
      <VersionList
        versions={versions}
        chosen={version?.number ?? null}
        pinned={pinned}
        onChoose={setChosen}
      />
      <section aria-label="Version">
        {trouble && (
          <Note $kind="alarm" role="alert">
            {trouble} The log is asked for again by itself.
          </Note>
        )}
        {version && versions ? (
          <>
            <VersionSheet key={version.number} version={version} log={log} stateAt={stateAt} />
            <Comparison version={version} versions={versions} stateAt={stateAt} />
            <VariantTable versions={versions} stateAt={stateAt} />
          </>
        ) : (
          <Quiet>{trouble ? '' : 'Reading the log …'}</Quiet>
        )}
      </section>
    </Layout>
  );
}

const Layout = styled.div`
  display: grid;
  grid-template-columns: 19rem minmax(0, 1fr);
  height: 100%;
  > section {
    min-height: 0;
    overflow-y: auto;
    position: relative;
    padding: 0.9rem 1.2rem 2rem;
    background: ${({ theme }) => theme.colour.sheet};
  }
`;
