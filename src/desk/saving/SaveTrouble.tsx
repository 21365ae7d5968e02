'use client';
import { useState } from 'react';
import { messageOf, sentence } from '@/core/problem';
import { Button, TextButton } from '@/ui/Button';
import { Choices, Note } from '@/ui/sheets';
import type { RefusedMeasurement } from './autosave';
import { useDesk, useDeskState } from '@/desk/DeskContext';

/** Says what to do when a change could not be saved; nothing is lost meanwhile. */
export function SaveTrouble() {
  const save = useDeskState((state) => state.save);
  if (save.kind === 'away')
    return (
      <Note $kind="doubt" role="alert">
        {save.reason} Your changes are kept in this browser and will be sent as soon as it answers.
        You can go on working.
      </Note>
    );
  if (save.kind === 'refused')
    return (
      <Note $kind="alarm" role="alert">
        The server did not take the last change. {sentence(save.problem)} Undo it, or download the
        project as a file to be safe.
      </Note>
    );
  if (save.kind === 'partly') return <PartlySaved refused={save.refused} />;
  return save.kind === 'conflict' ? <Conflict revision={save.theirs.revision} /> : null;
}

/** All is saved but for some measurements: which, why, and the way on without them. */
function PartlySaved({ refused }: { readonly refused: readonly RefusedMeasurement[] }) {
  const desk = useDesk();
  return (
    <Note $kind="alarm" role="alert">
      Everything is saved but for what the server does not take:
      {refused.map(({ id, name, fileName, problem }) => (
        <p key={id}>
          <strong>{name}</strong> (from {fileName}): {sentence(problem)}{' '}
          <TextButton
            onPress={() => desk.change({ type: 'removeMeasurement', id }, `exclude ${name}`)}
          >
            Leave it out
          </TextButton>
        </p>
      ))}
    </Note>
  );
}

function Conflict({ revision }: { readonly revision: number }) {
  const desk = useDesk();
  const [failure, setFailure] = useState<string | null>(null);
  const resolve = (how: 'mine' | 'theirs' | 'both') => {
    setFailure(null);
    desk.resolveConflict(how).catch((error: unknown) => setFailure(messageOf(error)));
  };
  return (
    <Note $kind="alarm" role="alert">
      This project was changed elsewhere (version {revision}) while there were unsaved changes here.
      Nothing has been overwritten.
      {failure !== null && <p>That could not be done: {failure}</p>}
      <Choices>
        <Button onPress={() => resolve('both')}>Keep both: save mine as a copy</Button>
        <Button onPress={() => resolve('theirs')}>Take the other version</Button>
        <Button onPress={() => resolve('mine')}>Save mine over it</Button>
      </Choices>
    </Note>
  );
}
