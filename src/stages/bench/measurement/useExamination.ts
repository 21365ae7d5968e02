'use client';
import { useEffect, useState } from 'react';
import type { Examination } from '@/core/insight/examine';
import type { Measurement } from '@/core/document/schema';
import { useDesk, useDeskState } from '@/desk/DeskContext';

/** How a measurement stands after its recipe, worked out beside the page; the last answer stays while the next is made. */
export function useExamination(measurement: Measurement): Examination | null {
  const desk = useDesk();
  const isLoaded = useDeskState((state) => state.loaded.has(measurement.id));
  const loadedCount = useDeskState((state) => state.loaded.size);
  const drivers = useDeskState((state) => state.design.drivers);
  const [examination, setExamination] = useState<Examination | null>(null);
  useEffect(() => {
    if (!isLoaded) return;
    let isWanted = true;
    void desk
      .workbench()
      .examine(desk.store.getState().design, measurement.id)
      .then((found) => isWanted && setExamination(found))
      .catch(() => undefined);
    return () => {
      isWanted = false;
    };
  }, [desk, measurement, drivers, isLoaded, loadedCount]);
  return examination;
}
