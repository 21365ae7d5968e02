'use client';
import { usePathname } from 'next/navigation';
import { stages, type Stage } from './stages';

/** The stage that the page shows. */
export function useStage(): Stage {
  const id = usePathname().split('/').at(-1);
  return stages.find((stage) => stage.id === id) ?? stages[0];
}
