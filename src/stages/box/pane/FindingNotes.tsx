'use client';
import type { BoxFinding } from '@/core/lows/findings/finding';
import { useDesk } from '@/desk/DeskContext';
import { TextButton } from '@/ui/Button';
import { Note, Quiet } from '@/ui/sheets';

interface FindingNotesProps {
  readonly findings: readonly BoxFinding[] | null;
  readonly isCurrent: boolean;
}

const noteKind = { stops: 'alarm', doubt: 'doubt', advice: 'plain' } as const;

/** What is found about the box: the cause and what would mend it are together. */
export function FindingNotes({ findings, isCurrent }: FindingNotesProps) {
  const desk = useDesk();
  if (!findings) return <Quiet role="status">Looking at the box …</Quiet>;
  return (
    <div
      role="status"
      aria-label="Findings about the box"
      style={{ display: 'grid', gap: '0.5rem', opacity: isCurrent ? 1 : 0.6 }}
    >
      {findings.map(({ code, severity, what, why, mend, where, offer }) => (
        <Note key={`${code} ${where} ${what}`} $kind={noteKind[severity]}>
          <strong>{what}</strong> {why} {mend}
          {offer && (
            <>
              {' '}
              <TextButton onPress={() => desk.change(offer.changes, offer.told)}>
                {offer.told}
              </TextButton>
            </>
          )}
        </Note>
      ))}
      {findings.length === 0 && <Note $kind="plain">There are no findings about this box.</Note>}
    </div>
  );
}
