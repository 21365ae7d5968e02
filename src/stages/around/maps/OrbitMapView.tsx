'use client';
import { useEffect, useId, useMemo, useRef, type KeyboardEvent, type PointerEvent } from 'react';
import styled from 'styled-components';
import { relativeLevels, type OrbitMap, type Plane } from '@/core/around/orbits';
import { nearestIndex } from '@/core/grid/nearest';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useElementWidth } from '@/ui/useElementSize';
import { frequencyTicks, shortHz } from '@/ui/chart/curve';
import { useThemeVersion } from '@/ui/chart/useThemeVersion';
import { paintMap, xOf, yOf, type MapPlot, type MapScale } from './paint';

/** Where all maps, curves and the polar plot are read. */
export interface AroundCursor {
  readonly hz: number;
  readonly plane: Plane;
  readonly degrees: number;
}

interface OrbitMapViewProps {
  readonly title: string;
  readonly orbit: OrbitMap;
  readonly frequencyHz: Float64Array;
  /** Angle that the levels are told against; null for levels as they are. */
  readonly referenceDeg: number | null;
  readonly scale: MapScale;
  readonly mostDeg: number;
  readonly cursor: AroundCursor | null;
  readonly onCursor: (cursor: AroundCursor | null) => void;
  /** Marked on the scale of angles. */
  readonly marks: readonly { readonly degrees: number; readonly label: string }[];
  /** A stretch that is told about. */
  readonly box: { readonly fromHz: number; readonly toHz: number; readonly degrees: number } | null;
  readonly heightPx: number;
}

const margin = { left: 34, right: 8, bottom: 16 };
const full = { fromHz: 20, toHz: 20_000 };

/** One orbit as a map: frequency across, angle up, level as colour and lines. */
export function OrbitMapView({
  title,
  orbit,
  frequencyHz,
  referenceDeg,
  scale,
  mostDeg,
  cursor,
  onCursor,
  marks,
  box,
  heightPx,
}: OrbitMapViewProps) {
  const id = useId();
  const [frame, widthPx] = useElementWidth<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const levels = useMemo(
    () => relativeLevels(orbit, frequencyHz.length, referenceDeg),
    [orbit, frequencyHz, referenceDeg],
  );
  const plot = useMemo(
    (): MapPlot => ({
      ...full,
      mostDeg,
      width: Math.max(80, widthPx - margin.left - margin.right),
      height: heightPx - margin.bottom,
    }),
    [mostDeg, widthPx, heightPx],
  );
  useEffect(() => {
    if (!canvas.current || widthPx === 0) return;
    const style = getComputedStyle(document.documentElement);
    const colour = (name: string) => style.getPropertyValue(name).trim();
    paintMap(canvas.current, {
      ...{ orbit, frequencyHz, scale, plot },
      levelDb: levels,
      pixelRatio: window.devicePixelRatio,
      colours: {
        ramp: ['--map-low', '--map-middle', '--map-high'].map(colour),
        line: colour('--ink'),
        hatch: colour('--quiet'),
      },
    });
  }, [orbit, frequencyHz, levels, scale, plot, widthPx, theme]);

  const { plane, degrees } = orbit;
  const own = cursor?.plane === plane ? cursor : null;
  const i = cursor ? nearestIndex(frequencyHz, cursor.hz) : null;
  const a = own ? degrees.indexOf(own.degrees) : -1;
  const db = i !== null && a >= 0 ? levels[a * frequencyHz.length + i] : null;
  const reading =
    db === null || i === null || !own
      ? ''
      : `${formatQuantity(frequencyHz[i], 'hertz')}, ${sideWords(plane, own.degrees)}: ${formatFixed(db, 1)} dB, ${orbit.sources[a]}`;

  const stepDeg = degrees[1] - degrees[0];
  const at = (hz: number, angle: number): AroundCursor => {
    const held = Math.min(mostDeg, Math.max(-mostDeg, Math.round(angle / stepDeg) * stepDeg));
    return { hz, plane, degrees: held === -180 ? 180 : held };
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    const rect = event.currentTarget.getBoundingClientRect();
    const x = (event.clientX - rect.left - margin.left) / plot.width;
    const y = (event.clientY - rect.top) / plot.height;
    if (x < 0 || x > 1 || y < 0 || y > 1) return onCursor(null);
    const hz = full.fromHz * (full.toHz / full.fromHz) ** x;
    onCursor(at(frequencyHz[nearestIndex(frequencyHz, hz)], mostDeg - 2 * mostDeg * y));
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const from = i ?? nearestIndex(frequencyHz, 1000);
    const angle = own?.degrees ?? 0;
    const by = event.shiftKey ? 8 : 1;
    const toHz = (place: number) =>
      at(frequencyHz[Math.min(frequencyHz.length - 1, Math.max(0, place))], angle);
    const next = (
      {
        ArrowRight: () => toHz(from + by),
        ArrowLeft: () => toHz(from - by),
        ArrowUp: () => at(frequencyHz[from], angle + stepDeg),
        ArrowDown: () => at(frequencyHz[from], angle - stepDeg),
        Home: () => toHz(0),
        End: () => toHz(frequencyHz.length - 1),
        Escape: () => null,
      } as Readonly<Record<string, () => AroundCursor | null>>
    )[event.key];
    if (!next) return;
    event.preventDefault();
    event.stopPropagation();
    onCursor(next());
  };

  const ticks = mostDeg > 90 ? [180, 90, 0, -90, -180] : [90, 60, 30, 0, -30, -60, -90];
  return (
    <Figure ref={frame} aria-label={title}>
      {widthPx > 0 && (
        <div
          role="slider"
          tabIndex={0}
          data-map={plane}
          aria-label={`${title}: cursor`}
          aria-describedby={`${id}-keys`}
          aria-valuemin={full.fromHz}
          aria-valuemax={full.toHz}
          aria-valuenow={Math.round(cursor?.hz ?? full.fromHz)}
          aria-valuetext={reading || 'no cursor'}
          onPointerMove={onPointerMove}
          onPointerLeave={() => onCursor(null)}
          onKeyDown={onKeyDown}
          style={{ position: 'relative', height: heightPx, cursor: 'crosshair' }}
        >
          <canvas
            ref={canvas}
            aria-hidden
            style={{
              position: 'absolute',
              left: margin.left,
              width: plot.width,
              height: plot.height,
            }}
          />
          <svg
            width={widthPx}
            height={heightPx}
            aria-hidden
            style={{ position: 'absolute', inset: 0, overflow: 'visible' }}
          >
            {ticks.map((tick) => (
              <text key={tick} x={margin.left - 4} y={yOf(plot, tick) + 3} textAnchor="end">
                {tick}°
              </text>
            ))}
            {frequencyTicks(full.fromHz, full.toHz).map((hz) => (
              <text
                key={hz}
                x={margin.left + xOf(plot, hz)}
                y={heightPx - 4}
                textAnchor={hz === full.toHz ? 'end' : 'middle'}
              >
                {shortHz(hz)}
              </text>
            ))}
            <g transform={`translate(${margin.left} 0)`}>
              {marks.map(({ degrees: mark, label }) => (
                <g key={label}>
                  <line
                    x1={0}
                    x2={plot.width}
                    y1={yOf(plot, mark)}
                    y2={yOf(plot, mark)}
                    stroke="var(--ink)"
                    strokeDasharray="2 5"
                  />
                  <Tag x={plot.width - 4} y={yOf(plot, mark) - 3} textAnchor="end">
                    {label}
                  </Tag>
                </g>
              ))}
              {box && (
                <rect
                  x={xOf(plot, box.fromHz)}
                  width={xOf(plot, box.toHz) - xOf(plot, box.fromHz)}
                  y={yOf(plot, box.degrees + 18)}
                  height={yOf(plot, box.degrees - 18) - yOf(plot, box.degrees + 18)}
                  rx={3}
                  fill="none"
                  stroke="var(--curve-3)"
                  strokeWidth={2}
                />
              )}
              {cursor && (
                <line
                  x1={xOf(plot, cursor.hz)}
                  x2={xOf(plot, cursor.hz)}
                  y1={0}
                  y2={plot.height}
                  stroke="var(--curve-3)"
                />
              )}
              {own && (
                <line
                  x1={0}
                  x2={plot.width}
                  y1={yOf(plot, own.degrees)}
                  y2={yOf(plot, own.degrees)}
                  stroke="var(--curve-3)"
                  strokeDasharray="4 3"
                />
              )}
            </g>
          </svg>
        </div>
      )}
      <figcaption>
        <h3>{title}</h3>
        <output aria-hidden>{reading}</output>
      </figcaption>
      <span id={`${id}-keys`} hidden>
        Left and right arrow keys move along frequency, with Shift by a third of an octave; up and
        down turn the angle. Escape takes the cursor away.
      </span>
    </Figure>
  );
}

/** “30° to the right”, “15° down”, “on the axis”. */
export function sideWords(plane: Plane, degrees: number): string {
  if (degrees === 0) return 'on the axis';
  if (Math.abs(degrees) === 180) return 'behind';
  const side =
    plane === 'horizontal' ? (degrees > 0 ? 'right' : 'left') : degrees > 0 ? 'up' : 'down';
  return `${Math.abs(degrees)}° ${side}`;
}

const Figure = styled.figure`
  min-width: 0;
  display: grid;
  figcaption {
    order: -1;
    display: flex;
    gap: 0.8rem;
    align-items: baseline;
    padding-left: ${margin.left}px;
    min-height: 1.2rem;
  }
  h3 {
    font-size: 0.8125rem;
    white-space: nowrap;
  }
  output {
    font-size: 0.6875rem;
    color: ${({ theme }) => theme.colour.quiet};
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  svg text {
    font-size: 10px;
    fill: ${({ theme }) => theme.colour.quiet};
  }
`;

const Tag = styled.text`
  paint-order: stroke;
  stroke: ${({ theme }) => theme.colour.sheet};
  stroke-width: 3px;
  && {
    fill: ${({ theme }) => theme.colour.ink};
  }
`;
