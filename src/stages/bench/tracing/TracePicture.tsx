'use client';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import styled from 'styled-components';
import type { PicturePoint } from '@/core/tracing/axes';
import { formatNumber } from '@/core/units/quantity';
import { useElementSize } from '@/ui/useElementSize';
import type { SheetPicture } from './readPicture';
import type { MarkId, Trace } from './useTrace';

/** Side of the lens and how much it enlarges. */
const lensPx = 132;
const lensZoom = 6;

/**
 * The picture with what was traced over it. A cross is moved by the pointer or by arrow keys, Enter
 * does what a click does.
 */
export function TracePicture({
  picture,
  trace,
}: {
  readonly picture: SheetPicture;
  readonly trace: Trace;
}) {
  const [attach, { widthPx, heightPx }] = useElementSize<HTMLDivElement>();
  const [cross, setCross] = useState<PicturePoint>({
    x: Math.round(picture.width / 2),
    y: Math.round(picture.height / 2),
  });
  const zoom = Math.min(widthPx / picture.width, heightPx / picture.height) || 0;
  const [width, height] = [picture.width * zoom, picture.height * zoom];
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || zoom === 0) return;
    context.fillStyle = '#fff';
    context.fillRect(0, 0, width, height);
    context.drawImage(picture.bitmap, 0, 0, width, height);
  }, [picture, zoom, width, height]);
  const placeOf = (event: { clientX: number; clientY: number; currentTarget: Element }) => {
    const box = event.currentTarget.getBoundingClientRect();
    return {
      x: Math.max(0, Math.min(picture.width - 1, (event.clientX - box.left) / zoom)),
      y: Math.max(0, Math.min(picture.height - 1, (event.clientY - box.top) / zoom)),
    };
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 10 : 1;
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    };
    if (event.key === 'Enter' || event.key === ' ') trace.click(cross);
    else if (event.key in moves) {
      const [dx, dy] = moves[event.key];
      setCross(({ x, y }) => ({
        x: Math.max(0, Math.min(picture.width - 1, Math.round(x + dx))),
        y: Math.max(0, Math.min(picture.height - 1, Math.round(y + dy))),
      }));
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const values = trace.axes?.toValues(cross);
  const told = `x ${Math.round(cross.x)}, y ${Math.round(cross.y)}${values ? `: ${formatNumber(Number(values.x.toPrecision(3)))} Hz, ${formatNumber(Number(values.y.toFixed(1)))}` : ''}`;
  return (
    <Frame ref={attach}>
      {zoom > 0 && (
        <div
          role="application"
          tabIndex={0}
          aria-label={`Picture ${picture.name}: arrow keys move the cross, Enter sets it`}
          style={{ width, height }}
          onKeyDown={onKeyDown}
          onPointerMove={(event) => setCross(placeOf(event))}
          onClick={(event) => trace.click(placeOf(event))}
        >
          <canvas ref={canvas} width={Math.round(width)} height={Math.round(height)} />
          <svg width={width} height={height} aria-hidden>
            {(Object.entries(trace.marks) as [MarkId, PicturePoint | null][]).map(
              ([id, at]) =>
                at && (
                  <g key={id} stroke="var(--alarm)" strokeWidth="1.5">
                    <path
                      d={`M${at.x * zoom - 8} ${at.y * zoom}h16M${at.x * zoom} ${at.y * zoom - 8}v16`}
                    />
                    <text
                      x={at.x * zoom + 6}
                      y={at.y * zoom - 6}
                      fill="var(--alarm)"
                      stroke="none"
                      fontSize="12"
                    >
                      {formatNumber(trace.values[id])}
                    </text>
                  </g>
                ),
            )}
            {trace.points.map(({ x, y }) => (
              <circle key={x} cx={x * zoom} cy={y * zoom} r="1.6" fill="var(--alarm)" />
            ))}
            <path
              d={`M0 ${cross.y * zoom}H${width}M${cross.x * zoom} 0V${height}`}
              stroke="var(--accent)"
              strokeOpacity="0.6"
            />
          </svg>
        </div>
      )}
      <Lens picture={picture} at={cross} />
      <output aria-live="polite">{told}</output>
    </Frame>
  );
}

/** What is under the cross, enlarged. */
function Lens({ picture, at }: { readonly picture: SheetPicture; readonly at: PicturePoint }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    const half = lensPx / lensZoom / 2;
    context.imageSmoothingEnabled = false;
    context.fillStyle = '#fff';
    context.fillRect(0, 0, lensPx, lensPx);
    context.drawImage(
      picture.bitmap,
      at.x - half,
      at.y - half,
      2 * half,
      2 * half,
      0,
      0,
      lensPx,
      lensPx,
    );
    context.strokeStyle = '#14675a';
    context.strokeRect(lensPx / 2 - lensZoom / 2, lensPx / 2 - lensZoom / 2, lensZoom, lensZoom);
  }, [picture, at]);
  return <canvas ref={canvas} className="lens" width={lensPx} height={lensPx} aria-hidden />;
}

const Frame = styled.div`
  position: relative;
  min-width: 0;
  min-height: 0;
  height: 100%;
  overflow: hidden;
  > div {
    position: relative;
    cursor: crosshair;
    canvas,
    svg {
      position: absolute;
      inset: 0;
    }
  }
  .lens {
    position: absolute;
    right: 4px;
    bottom: 4px;
    border: 1px solid ${({ theme }) => theme.colour.quiet};
    border-radius: 50%;
    pointer-events: none;
  }
  output {
    position: absolute;
    left: 4px;
    bottom: 4px;
    padding: 1px 6px;
    background: ${({ theme }) => theme.colour.sheet};
    font-size: ${({ theme }) => theme.size.small};
    pointer-events: none;
  }
`;
