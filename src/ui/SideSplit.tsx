'use client';
import { useState, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import styled from 'styled-components';
import { useStoredNumber } from './useStored';

interface SideSplitProps {
  /** Under which the width is remembered. */
  readonly name: string;
  /** What is in the side pane, for its divider's name. */
  readonly sideLabel: string;
  readonly children: readonly [main: ReactNode, side: ReactNode];
}

const usualPx = 320;
const narrowestPx = 280;
const widestPx = 720;
const stepPx = 20;

/** A stage with a pane at its right that can be made wider and keeps its width. */
export function SideSplit({ name, sideLabel, children: [main, side] }: SideSplitProps) {
  const [storedPx, store] = useStoredNumber(`fair-side-${name}`, usualPx);
  const [grip, setGrip] = useState<{ readonly x: number; readonly px: number } | null>(null);
  const widthPx = within(storedPx);
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowLeft: stepPx, ArrowRight: -stepPx }[event.key];
    const to = { Home: widestPx, End: narrowestPx }[event.key] ?? (by && widthPx + by);
    if (to === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    store(within(to));
  };
  const onPointerDown = (event: PointerEvent) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    setGrip({ x: event.clientX, px: widthPx });
  };
  return (
    <Layout style={{ gridTemplateColumns: `minmax(0, 1fr) 0 ${widthPx}px` }}>
      {main}
      <Divider
        role="separator"
        aria-orientation="vertical"
        aria-label={`Width of ${sideLabel}`}
        aria-valuemin={narrowestPx}
        aria-valuemax={widestPx}
        aria-valuenow={widthPx}
        tabIndex={0}
        onKeyDown={onKeyDown}
        onPointerDown={onPointerDown}
        onPointerMove={(event) => grip && store(within(grip.px + grip.x - event.clientX))}
        onPointerUp={() => setGrip(null)}
        onDoubleClick={() => store(usualPx)}
      />
      {side}
    </Layout>
  );
}

const within = (px: number) => Math.round(Math.min(widestPx, Math.max(narrowestPx, px)));

const Layout = styled.div`
  display: grid;
  height: 100%;
  > * {
    min-width: 0;
    min-height: 0;
  }
`;

const Divider = styled.div`
  position: relative;
  z-index: 2;
  cursor: col-resize;
  touch-action: none;
  /* The line belongs to the pane; what can be taken hold of lies over it. */
  &::after {
    content: '';
    position: absolute;
    inset: 0 -4px;
  }
  &:hover::after,
  &:focus-visible::after {
    background: ${({ theme }) => theme.colour.accentWash};
  }
`;
