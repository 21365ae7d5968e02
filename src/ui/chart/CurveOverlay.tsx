'use client';
import { nearestIndex } from '@/core/grid/nearest';
import { memo, useMemo, useState } from 'react';
import { type ChartMark, type Curve } from './curve';
import { createLabelPlacer } from './labels';
import type { Plot } from './plot';

interface CurveOverlayProps {
  readonly id: string;
  readonly plot: Plot;
  readonly frequencyHz: Float64Array;
  readonly curves: readonly Curve[];
  readonly marks: readonly ChartMark[];
  readonly cursorHz: number | null;
  readonly pinnedHz: number | null;
  readonly size: { readonly width: number; readonly height: number };
}

/**
 * What lies over the lines of a chart: stretches that were not measured, cursors, names of the
 * curves.
 */
export function CurveOverlay({
  id,
  plot,
  frequencyHz,
  curves,
  marks,
  cursorHz,
  pinnedHz,
  size,
}: CurveOverlayProps) {
  const { area, x, y } = plot;
  const hatch = `${id}-hatch`;
  const clip = `${id}-clip`;
  const cursors = [
    { hz: pinnedHz, dash: '3 3' },
    { hz: cursorHz, dash: undefined },
  ];
  return (
    <svg
      {...size}
      aria-hidden
      data-overlay
      style={{ position: 'absolute', left: 0, top: 0, pointerEvents: 'none' }}
    >
      <clipPath id={clip}>
        <rect x={area.x} y={area.y} width={area.width} height={area.height} />
      </clipPath>
      <pattern
        id={hatch}
        width={6}
        height={6}
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <line y2={6} stroke="var(--doubt)" strokeWidth={1.4} />
      </pattern>
      <g clipPath={`url(#${clip})`}>
        {marks.map(({ fromHz, toHz, label }) => (
          <rect
            key={`${fromHz} ${toHz} ${label}`}
            data-mark={label}
            x={x(fromHz)}
            width={Math.max(1, x(toHz) - x(fromHz))}
            y={area.y}
            height={area.height}
            fill={`url(#${hatch})`}
            opacity={0.35}
          />
        ))}
        {cursors.map(({ hz, dash }, m) => {
          if (hz === null) return null;
          const at = x(hz);
          const index = nearestIndex(frequencyHz, hz);
          return (
            <g key={m}>
              <line
                x1={at}
                x2={at}
                y1={area.y}
                y2={area.y + area.height}
                stroke="var(--quiet)"
                strokeDasharray={dash}
              />
              {curves.map((curve) =>
                !curve.isGuide && Number.isFinite(curve.values[index]) ? (
                  <circle
                    key={curve.id}
                    cx={at}
                    cy={y(curve)(curve.values[index])}
                    r={2.5}
                    fill={curve.colour}
                  />
                ) : null,
              )}
            </g>
          );
        })}
      </g>
      <Labels frequencyHz={frequencyHz} curves={curves} plot={plot} />
    </svg>
  );
}

const Labels = memo(function Labels({
  frequencyHz,
  curves,
  plot,
}: Pick<CurveOverlayProps, 'frequencyHz' | 'curves' | 'plot'>) {
  const [place] = useState(createLabelPlacer);
  const labels = useMemo(
    () => place(frequencyHz, curves, plot),
    [place, frequencyHz, curves, plot],
  );
  return labels.map(({ curve, left, baseline }) => (
    <text
      key={curve.id}
      x={left}
      y={baseline}
      fill={curve.colour}
      fontSize={10}
      fontWeight={650}
      paintOrder="stroke"
      stroke="var(--sheet)"
      strokeWidth={2}
    >
      {curve.label}
    </text>
  ));
});
