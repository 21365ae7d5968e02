'use client';
import { FilePlus2, FolderPlus } from 'lucide-react';
import { useRef, type RefObject } from 'react';
import { DropZone, type DropItem } from 'react-aria-components';
import styled from 'styled-components';
import { Button, PrimaryButton, TextButton } from '@/ui/Button';
import { Note, Quiet } from '@/ui/sheets';
import { TraceSheet } from '@/stages/bench/tracing/TraceSheet';
import { ProposalSheet } from './ProposalSheet';
import type { Intake } from './useIntake';

interface IntakeCardProps {
  readonly intake: Intake;
  readonly chooser: RefObject<HTMLInputElement | null>;
  readonly onRead: (measurementId: string) => void;
}

/** Where files and folders come in, and what was said about them. */
export function IntakeCard({ intake, chooser, onRead }: IntakeCardProps) {
  const folder = useRef<HTMLInputElement>(null);
  const { take, progress, notice, refusals, proposed, decided, stop, putAway } = intake;
  const takeChosen = (input: HTMLInputElement) => {
    const files = [...(input.files ?? [])];
    input.value = '';
    void take(files);
  };
  return (
    <>
      <Drop
        aria-label="Drop measurement files"
        getDropOperation={() => 'copy'}
        onDrop={(event) => void filesOf(event.items).then((files) => take(files))}
      >
        <PrimaryButton onPress={() => chooser.current?.click()}>
          <FilePlus2 size={15} aria-hidden /> Choose files <kbd>F</kbd>
        </PrimaryButton>
        <Button onPress={() => folder.current?.click()}>
          <FolderPlus size={15} aria-hidden /> Choose a folder
        </Button>
        <Quiet>
          or drop them here: responses and impedances as text, impulses and sweeps as WAV,
          Touchstone; a PNG or JPEG of a data sheet to trace its curves
        </Quiet>
        <input
          ref={chooser}
          type="file"
          multiple
          hidden
          aria-label="Measurement files"
          onChange={(event) => takeChosen(event.target)}
        />
        <input
          ref={folder}
          type="file"
          multiple
          hidden
          aria-label="Folder of measurement files"
          {...{ webkitdirectory: '' }}
          onChange={(event) => takeChosen(event.target)}
        />
      </Drop>
      {intake.picture && (
        <TraceSheet picture={intake.picture} onClose={intake.putPictureAway} onRead={onRead} />
      )}
      {proposed && <ProposalSheet read={proposed} onDone={decided} />}
      <div aria-live="polite">
        {progress && (
          <Quiet>
            Reading {progress.done + 1} of {progress.of} …{' '}
            <TextButton onPress={stop}>Stop</TextButton>
          </Quiet>
        )}
        {notice !== '' && <Quiet>{notice}</Quiet>}
        {refusals.map(({ key, text }) => (
          <Note key={key} $kind="alarm">
            {text} <TextButton onPress={() => putAway(key)}>Close</TextButton>
          </Note>
        ))}
      </div>
    </>
  );
}

/** Files of what was dropped, folders included. */
async function filesOf(items: Iterable<DropItem>): Promise<File[]> {
  const found: File[] = [];
  for (const item of items) {
    if (item.kind === 'file') found.push(await item.getFile());
    if (item.kind === 'directory') {
      const inside: DropItem[] = [];
      for await (const entry of item.getEntries()) inside.push(entry);
      found.push(...(await filesOf(inside)));
    }
  }
  return found;
}

const Drop = styled(DropZone)`
  display: grid;
  justify-items: start;
  gap: 0.4rem;
  border: 1px dashed ${({ theme }) => theme.colour.quiet};
  border-radius: ${({ theme }) => theme.radius};
  padding: 0.7rem;
  &[data-drop-target] {
    background: ${({ theme }) => theme.colour.accentWash};
    border-style: solid;
  }
  button kbd {
    color: inherit;
  }
`;
