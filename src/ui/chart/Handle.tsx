'use client';
import { useRef, type KeyboardEvent, type PointerEvent, type WheelEvent } from 'react';
import styled from 'styled-components';

/** Something on a chart that can be taken hold of. */
export interface ChartHandle {
  readonly id: string;
  readonly label: string;
  readonly hz: number;
  readonly value: number;
  /** What it represents now, in words. */
  readonly text: string;
}

/** How far a handle was moved since it was taken hold of. */
export interface HandleMove {
  readonly octaves: number;
  /** In the unit of the chart. */
  readonly value: number;
  /** What it shall be wider by, octaves. */
  readonly widerBy: number;
}

export interface HandleProps {
  readonly handle: ChartHandle;
  readonly left: number;
  readonly top: number;
  readonly octavesPerPx: number;
  readonly valuePerPx: number;
  /** Called once when it is taken hold of, then with every move since. */
  readonly onGrab: (id: string) => void;
  readonly onMove: (id: string, move: HandleMove) => void;
}

const still: HandleMove = { octaves: 0, value: 0, widerBy: 0 };
const keyStep = { octaves: 1 / 24, value: 0.25, widerBy: 0.1 };

/**
 * A ring on the curve: dragged in two directions, its width by the wheel; all of it by keys as
 * well.
 */
export function Handle({
  handle: { id, label, hz, text },
  left,
  top,
  octavesPerPx,
  valuePerPx,
  onGrab,
  onMove,
}: HandleProps) {
  const grabbed = useRef<{ readonly x: number; readonly y: number } | null>(null);
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    grabbed.current = { x: event.clientX, y: event.clientY };
    onGrab(id);
  };
  const onPointerMove = (event: PointerEvent) => {
    event.stopPropagation();
    if (!grabbed.current) return;
    const { x, y } = grabbed.current;
    onMove(id, {
      octaves: (event.clientX - x) * octavesPerPx,
      value: (y - event.clientY) * valuePerPx,
      widerBy: 0,
    });
  };
  const step = (move: Partial<HandleMove>) => {
    onGrab(id);
    onMove(id, { ...still, ...move });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const size = event.shiftKey ? 4 : 1;
    const keys: Record<string, Partial<HandleMove>> = {
      ArrowRight: { octaves: size * keyStep.octaves },
      ArrowLeft: { octaves: -size * keyStep.octaves },
      ArrowUp: { value: size * keyStep.value },
      ArrowDown: { value: -size * keyStep.value },
      PageUp: { widerBy: size * keyStep.widerBy },
      PageDown: { widerBy: -size * keyStep.widerBy },
    };
    if (!(event.key in keys)) return;
    event.preventDefault();
    event.stopPropagation();
    step(keys[event.key]);
  };
  return (
    <Ring
      role="slider"
      tabIndex={0}
      data-handle={id}
      aria-label={label}
      aria-valuenow={Math.round(hz)}
      aria-valuetext={text}
      title={`${label}: ${text}. Drag it; the wheel makes it wider. Keys: arrows, Page Up, Page Down.`}
      style={{ left, top }}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={() => (grabbed.current = null)}
      onPointerCancel={() => (grabbed.current = null)}
      onDoubleClick={(event) => event.stopPropagation()}
      onKeyDown={onKeyDown}
      onWheel={(event: WheelEvent) => step({ widerBy: -Math.sign(event.deltaY) * keyStep.widerBy })}
    />
  );
}

const Ring = styled.div`
  position: absolute;
  width: 15px;
  height: 15px;
  margin: -7.5px 0 0 -7.5px;
  border-radius: 50%;
  border: 3px double ${({ theme }) => theme.colour.accent};
  background: ${({ theme }) => theme.colour.sheet};
  cursor: move;
  touch-action: none;
  &:focus-visible,
  &:hover {
    background: ${({ theme }) => theme.colour.accentWash};
    outline: 2px solid ${({ theme }) => theme.colour.accent};
    outline-offset: 1px;
  }
`;
