'use client';
import type { KeyboardEvent } from 'react';
import { flushSync } from 'react-dom';
import styled from 'styled-components';
import type { Selection } from '@/desk/deskState';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { focusWished } from '@/stages/network/edits/focusSoon';
import { useNetworkEdits } from '@/stages/network/edits/useNetworkEdits';

interface TargetProps {
  readonly selection: Selection & { readonly kind: 'part' | 'way' };
  readonly label: string;
  readonly box: {
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
  };
  readonly children: React.ReactNode;
}

/** Something on the drawing that can be chosen by pointer, by Tab and by arrow keys. */
export function Target({ selection, label, box, children }: TargetProps) {
  const desk = useDesk();
  const edits = useNetworkEdits();
  const isChosen = useDeskState(
    (state) =>
      state.selection?.kind === selection.kind &&
      'id' in state.selection &&
      state.selection.id === selection.id,
  );
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey) return;
    const steps = event.shiftKey ? 10 : 1;
    // A key can come before the last change is drawn: what is beside it, and its value, are those
    // after that change.
    const onceDrawn = (go: () => void) => () => {
      flushSync(desk.catchUp);
      flushSync(focusWished);
      go();
    };
    const keys: Record<string, () => void> = {
      ArrowUp: () => edits.nudge(selection, steps, event.altKey),
      ArrowDown: () => edits.nudge(selection, -steps, event.altKey),
      ArrowRight: event.altKey
        ? () => edits.moveAlong(selection, 1)
        : onceDrawn(() => focusNeighbour(1)),
      ArrowLeft: event.altKey
        ? () => edits.moveAlong(selection, -1)
        : onceDrawn(() => focusNeighbour(-1)),
      Enter: onceDrawn(() =>
        document.querySelector<HTMLInputElement>('[data-inspector] input')?.focus(),
      ),
      ' ': () => desk.select(selection),
      Escape: () => desk.select(null),
    };
    if (!(event.key in keys)) return;
    event.preventDefault();
    event.stopPropagation();
    keys[event.key]();
  };
  return (
    <Choosable
      role="button"
      tabIndex={0}
      aria-label={label}
      aria-pressed={isChosen}
      data-target={selection.id}
      onFocus={() => desk.select(selection)}
      onClick={() => desk.select(selection)}
      onKeyDown={onKeyDown}
    >
      <rect {...box} rx="3" className="box" fill="transparent" stroke="transparent" />
      {children}
    </Choosable>
  );
}

/** From what has the focus to the next thing on the drawing, in the order of the rails. */
function focusNeighbour(direction: 1 | -1): void {
  const all: (Element | null)[] = [...document.querySelectorAll('[data-target]')];
  const at = all.indexOf(document.activeElement);
  const next = at < 0 ? null : all[at + direction];
  if (next instanceof SVGElement) next.focus();
}

export const Choosable = styled.g`
  cursor: pointer;
  outline: none;
  color: ${({ theme }) => theme.colour.ink};
  .box {
    fill: transparent;
    stroke: transparent;
  }
  &:hover .box {
    stroke: ${({ theme }) => theme.colour.rule};
  }
  &[aria-pressed='true'] .box {
    fill: ${({ theme }) => theme.colour.accentWash};
    stroke: ${({ theme }) => theme.colour.accent};
  }
  &:focus-visible .box {
    stroke: ${({ theme }) => theme.colour.accent};
    stroke-width: 2;
  }
`;
