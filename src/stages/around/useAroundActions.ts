'use client';
import { useMemo } from 'react';
import { useRegisterActions, type Action } from '@/desk/actions';
import { focusTab } from '@/ui/focusTab';

/** What lies beside the maps. */
export const sides = [
  { id: 'findings', name: 'Findings' },
  { id: 'room', name: 'Seats' },
  { id: 'joint', name: 'Search' },
  { id: 'balloon', name: 'Balloon' },
] as const;
export type SideId = (typeof sides)[number]['id'];

interface AroundActions {
  readonly setSide: (side: SideId) => void;
  readonly isRelative: boolean;
  readonly onRelative: (isRelative: boolean) => void;
}

/** Keys of the look around. */
export function useAroundActions({ setSide, isRelative, onRelative }: AroundActions): void {
  const actions = useMemo<Action[]>(
    () => [
      ...sides.map(({ id, name }, i) => ({
        id: `around-${id}`,
        group: 'Around',
        name: `Around: ${name.toLowerCase()}`,
        keys: [`Alt+${i + 1}`],
        run: () => {
          setSide(id);
          focusTab(id);
        },
      })),
      {
        id: 'around-relative',
        group: 'Around',
        name: isRelative ? 'Maps as they are' : 'Maps against the axis',
        keys: ['R'],
        run: () => onRelative(!isRelative),
      },
    ],
    [setSide, isRelative, onRelative],
  );
  useRegisterActions(actions);
}
