'use client';
import {
  createContext,
  memo,
  useCallback,
  useContext,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
} from 'react';
import { usePlotArea } from 'recharts';
import {
  linePath,
  nearestIndex,
  placesOf,
  type ChartMark,
  type Curve,
  type LiveCurves,
  type Scale,
} from './curve';
import type { ChartWindow } from './window';

/** What a chart's lines are drawn from. */
interface Layer {
  readonly id: string;
  readonly view: ChartWindow;
  readonly right: { readonly bottom: number; readonly top: number } | null;
  readonly frequencyHz: Float64Array;
  readonly curves: readonly Curve[];
  readonly live: LiveCurves | undefined;
  readonly marks: readonly ChartMark[];
  readonly cursorHz: number | null;
  readonly pinnedHz: number | null;
}

export const LayerContext = createContext<Layer | null>(null);

/** The lines of a chart, drawn in the plot of the frame around it. Only this part changes while a value moves. */
export function CurveLayer() {
  const layer = useContext(LayerContext);
  const area = usePlotArea();
  return layer && area && <Layer layer={layer} area={area} />;
}

function Layer({ layer, area }: { readonly layer: Layer; readonly area: Area }) {
  const { id, view, right, frequencyHz, curves, live, cursorHz, pinnedHz } = layer;
  const hatch = `${id}-hatch`;
  const { x, y } = useMemo(() => scalesOf(view, right, area), [view, right, area]);
  const clip = `${id}-clip`;
  const cursors = [
    { hz: pinnedHz, dash: '3 3' },
    { hz: cursorHz, dash: undefined },
  ];
  return (
    <g>
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
        {layer.marks.map(({ fromHz, toHz, label }) => (
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
        <Lines frequencyHz={frequencyHz} curves={curves} live={live} x={x} y={y} />
        {cursors.map(({ hz, dash }, m) => {
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

type YScale = (curve: Curve) => Scale;

/** The same scales as those of the frame's axes, without a call into the chart package for each point. */
function scalesOf(view: ChartWindow, right: Layer['right'], area: Area): { x: Scale; y: YScale } {
  const perDecade = area.width / Math.log10(view.toHz / view.fromHz);
  const x: Scale = (hz) => area.x + perDecade * Math.log10(hz / view.fromHz);
  const vertical = ({ bottom, top }: { bottom: number; top: number }): Scale => {
    const perUnit = area.height / (top - bottom);
    return (value) => area.y + (top - value) * perUnit;
  };
  const left = vertical(view);
  const other = right ? vertical(right) : left;
  return { x, y: (curve) => (curve.axis === 'right' ? other : left) };
}

interface LinesProps {
  readonly frequencyHz: Float64Array;
  readonly curves: readonly Curve[];
  readonly live: LiveCurves | undefined;
  readonly x: Scale;
  readonly y: YScale;
}

/** The paths. Live curves go straight into them, before React has looked at anything else that changed. */
const Lines = memo(function Lines({ frequencyHz, curves, live, x, y }: LinesProps) {
  const group = useRef<SVGGElement>(null);
  const places = useMemo(() => placesOf(frequencyHz, x), [frequencyHz, x]);
  const draw = useCallback(
    (newest: readonly Curve[]) => {
      for (const path of group.current!.children) {
        const curve = newest.find(({ id }) => id === path.getAttribute('data-curve'));
        if (curve?.values.length !== places.length) continue;
        const d = linePath(places, curve.values, y(curve));
        if (d !== path.getAttribute('d')) path.setAttribute('d', d);
      }
    },
    [places, y],
  );
  useLayoutEffect(() => draw(curves), [draw, curves]);
  useEffect(() => live?.(draw), [live, draw]);
  return (
    <g ref={group}>
      {curves.map((curve) => (
        <path
          key={curve.id}
          data-curve={curve.id}
          fill="none"
          stroke={curve.colour}
          strokeWidth={curve.width ?? 1.4}
          strokeDasharray={curve.dash}
          strokeLinejoin="round"
        />
      ))}
    </g>
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
