'use client';
import { stepName } from '@/core/measurement/steps/kinds';
import type { Examination } from '@/core/insight/examine';
import type { Measurement } from '@/core/document/schema';
import { withStep } from '@/core/measurement/recipe';
import { sentence } from '@/core/problem';
import { useDesk } from '@/desk/DeskContext';
import { TextButton } from '@/ui/Button';
import { Note, Quiet } from '@/ui/sheets';

interface HealthNotesProps {
  readonly measurement: Measurement;
  readonly examination: Examination;
}

/** What looks wrong with a measurement, each with its next step. */
export function HealthNotes({ measurement, examination }: HealthNotesProps) {
  const desk = useDesk();
  const { id, name, recipe } = measurement;
  if (examination.findings.length === 0)
    return <Quiet>Looked for noise, hum, reflections, units and phase: nothing to remark.</Quiet>;
  return (
    <section aria-label="Findings" style={{ display: 'grid', gap: '0.35rem' }}>
      {examination.findings.map(({ remedy, ...finding }) => (
        <Note key={finding.code} $kind={finding.code === 'bulk_delay' ? 'plain' : 'doubt'}>
          {sentence({ ...finding, where: '' })}{' '}
          {remedy && (
            <TextButton
              onPress={() =>
                desk.change(
                  {
                    type: 'editMeasurement',
                    id,
                    set: { recipe: withStep(recipe, remedy) },
                  },
                  `add ${stepName(remedy.kind).toLowerCase()}, ${name}`,
                )
              }
            >
              Add this step: {stepName(remedy.kind)}
            </TextButton>
          )}
        </Note>
      ))}
    </section>
  );
}
