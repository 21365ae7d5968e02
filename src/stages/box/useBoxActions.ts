'use client';
import { useMemo } from 'react';
import type { Box } from '@/core/document/boxSchema';
import { useRegisterActions, type Action } from '@/desk/actions';
import { focusTab } from '@/ui/focusTab';

/** What lies beside the drawing. */
export const sides = [
  { id: 'box', name: 'This box' },
  { id: 'find', name: 'Find' },
  { id: 'built', name: 'Built' },
  { id: 'boards', name: 'Boards' },
] as const;
export type SideId = (typeof sides)[number]['id'];

interface BoxActions {
  readonly boxes: readonly Box[];
  readonly drawn: Box;
  /** No more boxes can be kept. */
  readonly isFull: boolean;
  readonly onDraw: (box: Box) => void;
  readonly onUse: (box: Box) => void;
  readonly onCopy: () => void;
  readonly setSide: (side: SideId) => void;
}

/** Keys of the Box. */
export function useBoxActions({
  boxes,
  drawn,
  isFull,
  onDraw,
  onUse,
  onCopy,
  setSide,
}: BoxActions): void {
  const actions = useMemo<Action[]>(
    () => [
      ...sides.map(({ id, name }, i) => ({
        id: `box-${id}`,
        group: 'Box',
        name: `Box: ${name.toLowerCase()}`,
        keys: [`Alt+${i + 1}`],
        run: () => {
          setSide(id);
          focusTab(id);
        },
      })),
      {
        id: 'box-next',
        group: 'Box',
        name: 'Draw the next box',
        keys: ['N'],
        isDisabled: boxes.length < 2,
        run: () => onDraw(boxes[(boxes.indexOf(drawn) + 1) % boxes.length]),
      },
      {
        id: 'box-use',
        group: 'Box',
        name: `Use ${drawn.name}`,
        keys: ['U'],
        isDisabled: drawn.isUsed,
        run: () => onUse(drawn),
      },
      {
        id: 'box-copy',
        group: 'Box',
        name: `Copy ${drawn.name} as a candidate`,
        keys: ['C'],
        isDisabled: isFull,
        run: onCopy,
      },
    ],
    [boxes, drawn, isFull, onDraw, onUse, onCopy, setSide],
  );
  useRegisterActions(actions);
}
