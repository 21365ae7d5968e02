'use client';
import type { VersionSummary } from '@/core/log/log';
import { sentence } from '@/core/problem';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { Choices, Note } from '@/ui/sheets';

/** What keeps a name, note or impression from the server; nothing of it is lost meanwhile. */
export function AnnotationTrouble({ version }: { readonly version: VersionSummary }) {
  const desk = useDesk();
  const { number } = version;
  const trouble = useDeskState((state) => state.annotations.troubles.get(number));
  if (!trouble) return null;
  if (trouble.kind === 'away')
    return (
      <Note $kind="doubt" role="alert">
        {trouble.reason} What you wrote is kept in this browser and will be sent as soon as the
        server answers.
      </Note>
    );
  if (trouble.kind === 'refused')
    return (
      <Note $kind="alarm" role="alert">
        The server did not take what you wrote. {sentence(trouble.problem)} It is kept in this
        browser.
      </Note>
    );
  const { theirs } = trouble;
  return (
    <Note $kind="alarm" role="alert">
      This version’s {theirs.note === version.note ? 'name' : 'note'} was changed elsewhere while
      there was an unsaved change here. Nothing has been overwritten. There it says:
      <blockquote>
        {theirs.note === version.note ? (theirs.name ?? 'no name') : theirs.note}
      </blockquote>
      <Choices>
        {theirs.note !== version.note && (
          <Button onPress={() => desk.resolveAnnotation(number, 'both')}>Keep both notes</Button>
        )}
        <Button onPress={() => desk.resolveAnnotation(number, 'theirs')}>Take the other</Button>
        <Button onPress={() => desk.resolveAnnotation(number, 'mine')}>Save mine over it</Button>
      </Choices>
    </Note>
  );
}
