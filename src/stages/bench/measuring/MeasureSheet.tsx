'use client';
import { useState } from 'react';
import { Choice } from '@/ui/fields/Choice';
import { MicrophoneSheet } from './MicrophoneSheet';
import { RigSheet } from './RigSheet';
import { TextButton } from '@/ui/Button';
import { Quiet } from '@/ui/sheets';
import { lessons, type Lesson } from '@/stages/bench/lessons/lessons';
import type { Intake } from '@/stages/bench/intake/useIntake';

interface MeasureSheetProps {
  readonly intake: Intake;
  readonly onLesson: (lesson: Lesson) => void;
}

/** Measuring here: on the practice rig, or with a real microphone. */
export function MeasureSheet({ intake, onLesson }: MeasureSheetProps) {
  const [how, setHow] = useState<'rig' | 'microphone'>('rig');
  return (
    <>
      <Choice
        label="Measure with"
        options={[
          { id: 'rig', text: 'the practice rig' },
          { id: 'microphone', text: 'a microphone on this machine' },
        ]}
        value={how}
        onChange={setHow}
      />
      {how === 'rig' && (
        <Quiet>
          Lessons:{' '}
          {lessons.map((lesson, i) => (
            <span key={lesson.id}>
              {i > 0 && ', '}
              <TextButton onPress={() => onLesson(lesson)}>{lesson.name}</TextButton>
            </span>
          ))}
        </Quiet>
      )}
      {how === 'rig' ? <RigSheet intake={intake} /> : <MicrophoneSheet intake={intake} />}
    </>
  );
}
