'use client';
import { createContext, memo, useContext } from 'react';
import { usePlotArea, useXAxisScale, useYAxisScale } from 'recharts';
import { linePath, nearestIndex, type Curve, type Scale } from './curve';

/** What a chart's lines are drawn from. */
interface Layer {
  readonly id: string;
  readonly frequencyHz: Float64Array;
  readonly curves: readonly Curve[];
  readonly cursorHz: number | null;
  readonly pinnedHz: number | null;
}

export const LayerContext = createContext<Layer | null>(null);

/** The lines of a chart, drawn on the scales of the frame around it. Only this part changes while a value moves. */
export function CurveLayer() {
  const layer = useContext(LayerContext);
  const area = usePlotArea();
  const xScale = useXAxisScale(0);
  const leftScale = useYAxisScale('left');
  const rightScale = useYAxisScale('right');
  if (!layer || !area || !xScale || !leftScale) return null;
  const { id, frequencyHz, curves, cursorHz, pinnedHz } = layer;
  const x: Scale = (hz) => xScale(hz) ?? 0;
  const y = (curve: Curve): Scale => {
    const scale = curve.axis === 'right' && rightScale ? rightScale : leftScale;
    return (value) => scale(value) ?? 0;
  };
  const clip = `${id}-clip`;
  const marks = [
    { hz: pinnedHz, dash: '3 3' },
    { hz: cursorHz, dash: undefined },
  ];
  return (
    <g>
      <clipPath id={clip}>
        <rect x={area.x} y={area.y} width={area.width} height={area.height} />
      </clipPath>
      <g clipPath={`url(#${clip})`}>
        {curves.map((curve) => (
          <Line key={curve.id} curve={curve} d={linePath(frequencyHz, curve.values, x, y(curve))} />
        ))}
        {marks.map(({ hz, dash }, m) => {
          if (hz === null) return null;
          const at = x(hz);
          const index = nearestIndex(frequencyHz, hz);
          return (
            <g key={m} pointerEvents="none">
              <line
                x1={at}
                x2={at}
                y1={area.y}
                y2={area.y + area.height}
                stroke="var(--quiet)"
                strokeDasharray={dash}
              />
              {curves.map((curve) =>
                Number.isFinite(curve.values[index]) ? (
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
      {placeLabels(frequencyHz, curves, x, y, area).map(({ curve, left, top, anchor }) => (
        <text
          key={curve.id}
          x={left}
          y={top}
          textAnchor={anchor}
          fill={curve.colour}
          fontSize={10}
          fontWeight={650}
          paintOrder="stroke"
          stroke="var(--sheet)"
          strokeWidth={3}
        >
          {curve.label}
        </text>
      ))}
    </g>
  );
}

const Line = memo(function Line({ curve, d }: { readonly curve: Curve; readonly d: string }) {
  return (
    <path
      data-curve={curve.id}
      d={d}
      fill="none"
      stroke={curve.colour}
      strokeWidth={curve.width ?? 1.4}
      strokeDasharray={curve.dash}
      strokeLinejoin="round"
    />
  );
});

interface Area {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** About the width of a label at this size. */
const letterPx = 5.6;

/** A name at the visible end (or start) of each line, moved up where two would lie on each other. */
function placeLabels(
  frequencyHz: Float64Array,
  curves: readonly Curve[],
  x: Scale,
  y: (curve: Curve) => Scale,
  area: Area,
) {
  const placed: {
    curve: Curve;
    left: number;
    top: number;
    anchor: 'start' | 'end';
    from: number;
    to: number;
  }[] = [];
  for (const curve of curves) {
    if (curve.label === '') continue;
    const scale = y(curve);
    const isVisible = (i: number) => {
      const [px, py] = [x(frequencyHz[i]), scale(curve.values[i])];
      return (
        Number.isFinite(py) &&
        px >= area.x &&
        px <= area.x + area.width &&
        py >= area.y &&
        py <= area.y + area.height
      );
    };
    const indices = [...curve.values.keys()];
    const at = curve.labelAt === 'start' ? indices.find(isVisible) : indices.findLast(isVisible);
    if (at === undefined) continue;
    const px = x(frequencyHz[at]);
    const width = curve.label.length * letterPx;
    const isAtRight = px + width > area.x + area.width;
    const left = px + (isAtRight ? -2 : 4);
    const [from, to] = isAtRight ? [left - width, left] : [left, left + width];
    let top = Math.min(
      area.y + area.height - 4,
      Math.max(area.y + 10, scale(curve.values[at]) - 6),
    );
    while (
      placed.some(
        (other) => other.from < to && from < other.to && Math.abs(other.top - top) < 11,
      ) &&
      top > area.y + 12
    )
      top -= 3;
    placed.push({ curve, left, top, anchor: isAtRight ? 'end' : 'start', from, to });
  }
  return placed;
}
