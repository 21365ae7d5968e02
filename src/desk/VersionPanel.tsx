'use client';
import Link from 'next/link';
import { Dialog, DialogTrigger, Input, Popover, TextArea, TextField } from 'react-aria-components';
import styled from 'styled-components';
import { longestNote, type VersionSummary } from '@/core/log/log';
import { Button } from '@/ui/Button';
import { fieldLook } from '@/ui/fields/field';
import { MenuSheet, Quiet } from '@/ui/sheets';
import { useTextDraft } from '@/ui/fields/useTextDraft';
import { useDesk } from './DeskContext';
import { AnnotationTrouble } from './saving/AnnotationTrouble';
import { useLog } from './useLog';

interface VersionPanelProps {
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
}

/** Name and note of the present version, on every stage. */
export function VersionPanel({ isOpen, onOpenChange }: VersionPanelProps) {
  return (
    <DialogTrigger isOpen={isOpen} onOpenChange={onOpenChange}>
      <Button>
        Version <kbd>Ctrl M</kbd>
      </Button>
      <Popover placement="bottom end">
        <MenuSheet>
          <Dialog aria-label="Name and note of this version">
            <Present />
          </Dialog>
        </MenuSheet>
      </Popover>
    </DialogTrigger>
  );
}

function Present() {
  const desk = useDesk();
  const { versions, trouble, annotate } = useLog();
  const newest = versions?.reduce<VersionSummary | null>(
    (last, one) => (last && last.number > one.number ? last : one),
    null,
  );
  if (!newest)
    return <Quiet>{trouble ?? 'The log begins with the first change that is saved.'}</Quiet>;
  return (
    <Fields key={newest.number}>
      <h3>
        Version {newest.number} <Quiet>{newest.variant}</Quiet>
      </h3>
      <NameOf version={newest} onCommit={(name) => annotate(newest, { name: name || null })} />
      <NoteOf version={newest} onCommit={(note) => annotate(newest, { note })} />
      <AnnotationTrouble version={newest} />
      <Quiet>
        The next change begins version {newest.number + 1} once this one has a name.{' '}
        <Link href={`/p/${desk.projectId}/log`}>All versions are in the Log.</Link>
      </Quiet>
    </Fields>
  );
}

interface FieldProps {
  readonly version: VersionSummary;
  readonly onCommit: (text: string) => void;
}

function NameOf({ version, onCommit }: FieldProps) {
  const draft = useTextDraft({
    value: version.name ?? '',
    longest: 80,
    onCommit,
    mayBeEmpty: true,
  });
  return (
    <TextField aria-label="Name of this version" maxLength={80} autoFocus {...draft}>
      <Input placeholder="Give it a name to keep it by" />
    </TextField>
  );
}

function NoteOf({ version, onCommit }: FieldProps) {
  const draft = useTextDraft({
    value: version.note,
    longest: longestNote,
    onCommit,
    mayBeEmpty: true,
    hasLines: true,
  });
  return (
    <TextField aria-label="Note on this version" maxLength={longestNote} {...draft}>
      <TextArea rows={5} placeholder="What changed, why, what to try next" />
    </TextField>
  );
}

const Fields = styled.div`
  display: grid;
  gap: 0.6rem;
  width: 22rem;
  padding: 0.6rem 0.8rem;
  input,
  textarea {
    ${fieldLook}
    width: 100%;
  }
`;
