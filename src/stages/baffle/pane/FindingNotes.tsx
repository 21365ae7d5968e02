'use client';
import type { BumpFinding } from '@/core/layout/bump';
import type { LayoutStudy } from '@/core/layout/study';
import type { Design } from '@/core/document/schema';
import { formatFixed, formatNumber, formatQuantity } from '@/core/units/quantity';
import { useDesk } from '@/desk/DeskContext';
import { TextButton } from '@/ui/Button';
import { Note, Quiet } from '@/ui/sheets';
import type { Chosen } from '@/stages/baffle/chosen';

interface FindingNotesProps {
  readonly design: Design;
  readonly study: LayoutStudy | null;
  readonly isCurrent: boolean;
  /** Whose findings come first; all others follow. */
  readonly chosen: Chosen;
}

/** What is found about the layout: the cause and what would mend it are together. */
export function FindingNotes({ design, study, isCurrent, chosen }: FindingNotesProps) {
  if (!study) return <Quiet role="status">Looking at edges and spacing …</Quiet>;
  const isFirst = (about: string | null) =>
    chosen.kind === 'driver' ? about === chosen.id : false;
  const bumps = [...study.bumps].sort(
    (a, b) => Number(isFirst(b.driverId)) - Number(isFirst(a.driverId)) || b.bump.db - a.bump.db,
  );
  const findings = [...study.findings].sort(
    (a, b) => Number(isFirst(b.about)) - Number(isFirst(a.about)),
  );
  return (
    <div
      role="status"
      aria-label="Findings about the baffle"
      style={{ display: 'grid', gap: '0.5rem', opacity: isCurrent ? 1 : 0.6 }}
    >
      {bumps.map((bump) => (
        <BumpNote key={bump.driverId} design={design} found={bump} />
      ))}
      {findings.map(({ code, about, severity, what, why, mend }) => (
        <Note key={`${code} ${about} ${what}`} $kind={severity === 'stops' ? 'alarm' : 'doubt'}>
          <strong>{what}</strong> {why} {mend}
        </Note>
      ))}
      {bumps.length === 0 && findings.length === 0 && (
        <Note $kind="plain">No collisions, no coincident edges, no wide spacing.</Note>
      )}
    </div>
  );
}

const counts = ['No edge', 'One edge', 'Two edges', 'Three edges', 'Four edges'];

function BumpNote({ design, found }: { readonly design: Design; readonly found: BumpFinding }) {
  const desk = useDesk();
  const name = design.drivers.find(({ id }) => id === found.driverId)?.name ?? '';
  const distances = found.edges.map(({ mm }) => Math.round(mm));
  const [near, far] = [Math.min(...distances), Math.max(...distances)];
  const span = near === far ? formatNumber(near) : `${formatNumber(near)}–${formatNumber(far)}`;
  const db = (value: number) => `${value > 0 ? '+' : ''}${formatFixed(value, 1)} dB`;
  return (
    <Note $kind="doubt">
      <strong>
        {name}: {(counts[found.edges.length] ?? `${found.edges.length} edges`).toLowerCase()} at{' '}
        {span} mm
      </strong>
      : {db(found.bump.db)} at {formatQuantity(Number(found.bump.atHz.toPrecision(2)), 'hertz')} on
      the axis ({found.edges.map((edge) => edge.name).join(', ')}).
      {found.mends.map(({ told, bump, change }) => (
        <span key={told}>
          {' '}
          <TextButton onPress={() => desk.change(change, told)}>{told}</TextButton>: {db(bump.db)}.
        </span>
      ))}
    </Note>
  );
}
