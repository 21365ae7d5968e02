'use client';
import { useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import styled from 'styled-components';

/** Steps of the arrow keys: across and up, mm. */
type Nudge = (acrossMm: number, upMm: number) => void;

interface GripProps {
  readonly label: string;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
  readonly onNudge?: Nudge;
  /** Where the pointer is, in pixels of the drawing; `isFree` while Alt is held. */
  readonly onDrag?: (at: { readonly x: number; readonly y: number }, isFree: boolean) => void;
  readonly onRelease?: () => void;
  /** Its own place in pixels of the drawing. */
  readonly at: { readonly x: number; readonly y: number };
  readonly children: ReactNode;
}

/**
 * Something on a drawing that can be chosen, taken hold of, and moved by arrow keys: 1 mm, with Shift
 * 10, with Alt a tenth.
 */
export function Grip({
  label,
  isChosen,
  onChoose,
  onNudge,
  onDrag,
  onRelease,
  at,
  children,
}: GripProps) {
  /** From the pointer to the thing's own place, so that it does not jump when it is taken. */
  const held = useRef<{ readonly x: number; readonly y: number } | null>(null);
  const placeOf = (event: PointerEvent<SVGGElement>) => {
    const box = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey) return;
    if (event.key === ' ' || event.key === 'Enter') {
      event.preventDefault();
      event.stopPropagation();
      onChoose();
      if (event.key === 'Enter')
        document.querySelector<HTMLInputElement>('[data-drawing-pane] input')?.focus();
      return;
    }
    const step = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    };
    if (!onNudge || !(event.key in moves)) return;
    event.preventDefault();
    event.stopPropagation();
    onNudge(...moves[event.key]);
  };
  return (
    <Held
      role="button"
      tabIndex={0}
      aria-label={label}
      aria-pressed={isChosen}
      onFocus={onChoose}
      onKeyDown={onKeyDown}
      onPointerDown={(event) => {
        event.currentTarget.focus();
        onChoose();
        if (!onDrag) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const pointer = placeOf(event);
        held.current = { x: at.x - pointer.x, y: at.y - pointer.y };
      }}
      onPointerMove={(event) => {
        if (!held.current || !onDrag) return;
        const pointer = placeOf(event);
        onDrag({ x: pointer.x + held.current.x, y: pointer.y + held.current.y }, event.altKey);
      }}
      onPointerUp={() => {
        if (held.current) onRelease?.();
        held.current = null;
      }}
      onPointerCancel={() => (held.current = null)}
    >
      {children}
    </Held>
  );
}

const Held = styled.g`
  cursor: grab;
  outline: none;
  touch-action: none;
  &:active {
    cursor: grabbing;
  }
  &:focus-visible .halo {
    stroke: ${({ theme }) => theme.colour.accent};
    stroke-width: 2;
    stroke-opacity: 1;
  }
  .halo {
    fill: transparent;
    stroke: transparent;
  }
  &:hover .halo {
    stroke: ${({ theme }) => theme.colour.rule};
  }
`;
