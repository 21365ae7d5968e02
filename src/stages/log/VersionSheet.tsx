'use client';
import { useTextDraft } from '@/ui/fields/useTextDraft';
import { useRef, useState } from 'react';
import Markdown from 'react-markdown';
import { Input, TextArea, TextField } from 'react-aria-components';
import styled from 'styled-components';
import { longestNote, type SavedStep, type VersionSummary } from '@/core/log/log';
import { listSteps } from '@/desk/api';
import { withNetworkOf } from '@/core/document/networkOnly';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button, PrimaryButton } from '@/ui/Button';
import { fieldLook } from '@/ui/fields/field';
import { Quiet } from '@/ui/sheets';
import { AnnotationTrouble } from '@/desk/saving/AnnotationTrouble';
import { Impressions } from './Impressions';
import { dayOf, reasonWords, timeOf } from './logWords';
import type { LogState, Shown } from '@/desk/useLog';

interface VersionSheetProps {
  readonly version: VersionSummary;
  readonly log: LogState;
  readonly stateAt: (revision: number) => Promise<Shown>;
}

/** One version: its name, note and impressions, and the ways back to it. */
export function VersionSheet({ version, log, stateAt }: VersionSheetProps) {
  const desk = useDesk();
  const { number, variant, reason, startedAt, lastRevision, name } = version;
  const isPinned = useDeskState((state) => state.pinned?.revision === lastRevision);
  const goTo = async (revision: number) => {
    const { design } = await stateAt(revision);
    desk.goTo(design, `go back to v${number}`);
  };
  /** What was answered and measured since stays. */
  const goToNetwork = async () => {
    const { design } = await stateAt(lastRevision);
    const present = desk.store.getState().design;
    desk.goTo(withNetworkOf(present, design), `the network of v${number}`);
  };
  return (
    <article>
      <Head>
        <h2>Version {number}</h2>
        <Quiet>
          {variant}, {dayOf(startedAt)} {timeOf(startedAt)}, {reasonWords(reason)}
        </Quiet>
      </Head>
      <Actions>
        <NameOf
          name={name}
          onCommit={(next) => log.annotate(version, { name: next === '' ? null : next })}
        />
        <PrimaryButton onPress={() => void goTo(lastRevision)}>Go back to it</PrimaryButton>
        <Button onPress={() => void goToNetwork()}>Its network only</Button>
        <Button onPress={() => void desk.pin(isPinned ? null : lastRevision)}>
          {isPinned ? 'Take the pin away' : 'Pin it'}
        </Button>
      </Actions>
      <AnnotationTrouble version={version} />
      <NoteOf note={version.note} onCommit={(note) => log.annotate(version, { note })} />
      <Impressions
        impressions={version.impressions}
        onChange={(impressions) => log.annotate(version, { impressions })}
      />
      <Steps version={version} onGoTo={(revision) => void goTo(revision)} />
    </article>
  );
}

function NameOf({
  name,
  onCommit,
}: {
  readonly name: string | null;
  readonly onCommit: (name: string) => void;
}) {
  const draft = useTextDraft({ value: name ?? '', longest: 80, onCommit, mayBeEmpty: true });
  return (
    <Name aria-label="Name of this version" maxLength={80} {...draft}>
      <Input placeholder="Give it a name to keep it by" />
    </Name>
  );
}

interface NoteProps {
  readonly note: string;
  readonly onCommit: (note: string) => void;
}

/** Markdown, written and read in the same place. */
function NoteOf({ note, onCommit }: NoteProps) {
  const [state, setState] = useState<'read' | 'written' | 'read after a key'>('read');
  if (state === 'written')
    return (
      <WrittenNote
        note={note}
        onCommit={onCommit}
        onDone={(isByKey) => setState(isByKey ? 'read after a key' : 'read')}
      />
    );
  return (
    <NoteBox>
      {note === '' ? (
        <Quiet>No note yet.</Quiet>
      ) : (
        <Markdown disallowedElements={['img']}>{note}</Markdown>
      )}
      <Button autoFocus={state === 'read after a key'} onPress={() => setState('written')}>
        {note === '' ? 'Write a note' : 'Edit the note'}
      </Button>
    </NoteBox>
  );
}

function WrittenNote({
  note,
  onCommit,
  onDone,
}: NoteProps & { readonly onDone: (isByKey: boolean) => void }) {
  const draft = useTextDraft({
    value: note,
    longest: longestNote,
    onCommit,
    mayBeEmpty: true,
    hasLines: true,
  });
  const isByKey = useRef(false);
  return (
    <NoteBox>
      <TextField
        aria-label="Note"
        maxLength={longestNote}
        autoFocus
        {...draft}
        onBlur={() => {
          draft.onBlur();
          onDone(isByKey.current);
        }}
        onKeyDown={(event) => {
          const isEnd = event.key === 'Enter' && (event.ctrlKey || event.metaKey);
          isByKey.current = isEnd || event.key === 'Escape';
          if (isByKey.current) (event.target as HTMLElement).blur();
          else draft.onKeyDown(event);
        }}
      >
        <TextArea
          rows={6}
          placeholder="What changed, why, what to try next. **Bold**, lists and links work."
        />
      </TextField>
      <Quiet>It is kept when you leave it, or with Ctrl Enter.</Quiet>
    </NoteBox>
  );
}

/** The saved states inside a version, fetched when they are asked for. */
function Steps({
  version,
  onGoTo,
}: {
  readonly version: VersionSummary;
  readonly onGoTo: (revision: number) => void;
}) {
  const desk = useDesk();
  const [steps, setSteps] = useState<readonly SavedStep[] | null>(null);
  const count = version.lastRevision - version.firstRevision + 1;
  return (
    <details
      onToggle={(event) => {
        if (!event.currentTarget.open) return;
        void listSteps(desk.projectId, version.number)
          .then(setSteps)
          .catch(() => setSteps([]));
      }}
    >
      <summary>{count === 1 ? 'One saved state' : `${count} saved states`}</summary>
      <StepList>
        {steps?.map(({ revision, savedAt, label }) => (
          <li key={revision}>
            <Quiet>{timeOf(savedAt)}</Quiet>
            <span>{label || 'saved'}</span>
            <Button aria-label={`Go back to state ${revision}`} onPress={() => onGoTo(revision)}>
              go back
            </Button>
          </li>
        ))}
      </StepList>
    </details>
  );
}

const Head = styled.div`
  display: flex;
  align-items: baseline;
  gap: 0.8rem;
`;

const Actions = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  margin: 0.4rem 0;
`;

const Name = styled(TextField)`
  flex: 1;
  input {
    ${fieldLook}
    width: 100%;
  }
`;

const NoteBox = styled.div`
  margin: 0.7rem 0 0.4rem;
  > * + button {
    margin-top: 0.45rem;
  }
  > span {
    margin-right: 0.8rem;
  }
  textarea {
    ${fieldLook}
    width: 100%;
    resize: vertical;
  }
  ul,
  ol {
    list-style: revert;
    padding-left: 1.3rem;
  }
`;

const StepList = styled.ol`
  max-height: 12rem;
  overflow-y: auto;
  font-size: ${({ theme }) => theme.size.small};
  li {
    display: grid;
    grid-template-columns: 3.5rem 1fr auto;
    align-items: center;
    gap: 0.6rem;
    border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
  }
  button {
    padding: 0 0.4rem;
  }
`;
