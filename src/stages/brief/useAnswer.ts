'use client';
import { useCallback } from 'react';
import type { Brief } from '@/core/document/briefSchema';
import { useDesk } from '@/desk/DeskContext';

/** Writes answers into the brief; answers to the same question in quick succession are one step. */
export function useAnswer() {
  const desk = useDesk();
  return useCallback(
    (question: string, set: Partial<Brief>) =>
      desk.change({ type: 'answer', set }, `answer: ${question}`, `brief ${question}`),
    [desk],
  );
}
