'use client';
import { useCallback } from 'react';
import type { Examination } from '@/core/insight/examine';
import type { Measurement } from '@/core/document/schema';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { useWorkbenchAnswer, type Question } from '@/desk/useWorkbenchAnswer';

/**
 * How a measurement looks after its recipe, worked out beside the page; the last answer stays while
 * the next is made.
 */
export function useExamination(measurement: Measurement): Examination | null {
  const desk = useDesk();
  const isLoaded = useDeskState((state) => state.loaded.has(measurement.id));
  const drivers = useDeskState((state) => state.design.drivers);
  // Of the design, an examination reads the measurement and the drivers.
  const question = useCallback<Question<Examination | null>>(
    (workbench) =>
      workbench.examine({ ...desk.store.getState().design, drivers: [...drivers] }, measurement.id),
    [desk, measurement, drivers],
  );
  return useWorkbenchAnswer(isLoaded ? question : null, 0).value;
}
