'use client';
import styled from 'styled-components';
import { useDeskState } from '@/desk/DeskContext';
import { TextButton } from '@/ui/Button';
import { Quiet } from '@/ui/sheets';
import { nextStep, type Lesson, type LessonStep } from './lessons';

interface LessonBarProps {
  readonly lesson: Lesson;
  readonly onShow: (table: LessonStep['table']) => void;
  readonly onLeave: () => void;
}

/** The next step of the lesson that is going on; it follows what the document holds. */
export function LessonBar({ lesson, onShow, onLeave }: LessonBarProps) {
  const design = useDeskState((state) => state.design);
  const next = nextStep(lesson, design);
  return (
    <Bar aria-label="Lesson">
      <p aria-live="polite">
        <strong>{lesson.name}</strong>
        {next ? ` ${next.number} of ${lesson.steps.length}: ${next.step.task} ` : ': done. '}
        {next ? (
          <TextButton onPress={() => onShow(next.step.table)}>Show where</TextButton>
        ) : (
          'All of it can be done the same way with your own measurements. '
        )}
        <TextButton onPress={onLeave}>Leave the lesson</TextButton>
      </p>
      {next && <Quiet>{next.step.why}</Quiet>}
    </Bar>
  );
}

const Bar = styled.section`
  background: ${({ theme }) => theme.colour.accentWash};
  border-bottom: 1px solid ${({ theme }) => theme.colour.rule};
  padding: 0.45rem 0.9rem;
  font-size: 0.8125rem;
`;
