'use client';
import styled from 'styled-components';
import { sentence } from '@/core/problem';
import { Button } from '@/ui/Button';
import { Note } from '@/ui/sheets';
import { useDesk, useDeskState } from './DeskContext';

/** Says what to do when a change could not be saved; nothing is lost meanwhile. */
export function SaveTrouble() {
  const desk = useDesk();
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
  if (save.kind !== 'conflict') return null;
  return (
    <Note $kind="alarm" role="alert">
      This project was changed elsewhere (version {save.theirs.revision}) while there were unsaved
      changes here. Nothing has been overwritten.
      <Choices>
        <Button onPress={() => void desk.resolveConflict('both')}>
          Keep both: save mine as a copy
        </Button>
        <Button onPress={() => void desk.resolveConflict('theirs')}>Take the other version</Button>
        <Button onPress={() => void desk.resolveConflict('mine')}>Save mine over it</Button>
      </Choices>
    </Note>
  );
}

const Choices = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  margin-top: 0.4rem;
`;
