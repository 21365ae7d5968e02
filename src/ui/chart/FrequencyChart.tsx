'use client';
import { nearestIndex } from '@/core/grid/nearest';
import {
  memo,
  useCallback,
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
} from 'react';
import { CartesianGrid, LineChart, XAxis, YAxis } from 'recharts';
import styled from 'styled-components';
import { formatQuantity } from '@/core/units/quantity';
import { useElementWidth } from '../useElementSize';
import { CurveCanvas } from './CurveCanvas';
import { CurveOverlay } from './CurveOverlay';
import { CurveWords } from './CurveWords';
import { frequencyTicks, shortHz, type ChartMark, type Curve, type LiveCurves } from './curve';
import { Handle, type ChartHandle, type HandleProps } from './Handle';
import { ExportChart } from './ExportChart';
import { plotOf } from './plot';
import { wholeDrawing } from './chartFiles';
import { valueTicks, zoomed, type ChartWindow, type Zoom } from './window';

interface FrequencyChartProps {
  readonly title: string;
  readonly frequencyHz: Float64Array;
  readonly curves: readonly Curve[];
  /** Newer values of the same curves, drawn at once; `curves` follow when there is time. */
  readonly live?: LiveCurves;
  /** Stretches that were not measured: hatched. */
  readonly marks?: readonly ChartMark[];
  /**
   * Left scale. Of 50 dB a decade is as wide as 25 dB are high, of 100 dB as 50: the proportions of
   * IEC 60263; others have none.
   */
  readonly bottom: number;
  readonly top: number;
  readonly unit: string;
  readonly rightAxis?: {
    readonly bottom: number;
    readonly top: number;
    readonly unit: string;
    readonly ticks: number[];
  };
  /** What it shows while nobody zooms; 20 Hz to 20 kHz without it. */
  readonly band?: { readonly fromHz: number; readonly toHz: number };
  /** Shared between charts, so that one cursor reads them all. */
  readonly cursorHz: number | null;
  readonly onCursor: (hz: number | null) => void;
  /** Beside the title: what the chart is about. */
  readonly aside?: ReactNode;
  /** Things on the chart that can be taken hold of. */
  readonly handles?: ChartHandles;
}

export interface ChartHandles extends Pick<HandleProps, 'onGrab' | 'onMove'> {
  readonly all: readonly ChartHandle[];
}

const noMarks: readonly ChartMark[] = [];
const margin = { left: 34, right: 10, top: 6, bottom: 18 };
const full = { fromHz: 20, toHz: 20_000 };
const widestPlotPx = 480;
const narrowPx = 260;

/** A chart over frequency with cursor, zoom, pin and export, all of them by keyboard as well. */
export function FrequencyChart({
  title,
  frequencyHz,
  curves,
  live,
  marks = noMarks,
  bottom,
  top,
  unit,
  rightAxis,
  band = full,
  cursorHz,
  onCursor,
  aside,
  handles,
}: FrequencyChartProps) {
  const id = useId();
  const [frame, widthPx] = useElementWidth<HTMLDivElement>();
  const drawing = useRef<HTMLDivElement>(null);
  const [zoom, setZoom] = useState<Zoom>({
    factor: 1,
    centreHz: 632,
    centreValue: (bottom + top) / 2,
  });
  const [pinnedHz, setPinnedHz] = useState<number | null>(null);

  const right = rightAxis ? margin.left : margin.right;
  const plotWidth = Math.max(120, Math.min(widestPlotPx, widthPx - margin.left - right));
  // Two thirds as high as wide: over three decades 50 dB have the proportion of 25 dB to a decade.
  // A second scale narrows the plot, not its height, and then they have not.
  const plotHeight = Math.round(
    (Math.min(widestPlotPx, widthPx - margin.left - margin.right) / 3) * 2,
  );
  const view = useMemo(() => zoomed({ ...band, bottom, top }, zoom), [band, bottom, top, zoom]);
  const size = useMemo(
    () => ({
      width: plotWidth + margin.left + right,
      height: plotHeight + margin.top + margin.bottom,
    }),
    [plotWidth, plotHeight, right],
  );
  const plot = useMemo(() => {
    const area = { x: margin.left, y: margin.top, width: plotWidth, height: plotHeight };
    return plotOf(view, rightAxis ?? null, area);
  }, [view, rightAxis, plotWidth, plotHeight]);
  const latest = useRef({ frequencyHz, curves, plot });
  useEffect(() => {
    latest.current = { frequencyHz, curves, plot };
  });
  const shown = useCallback(() => {
    const { curves: all, ...now } = latest.current;
    return {
      frequencyHz: now.frequencyHz,
      curves: all.filter(({ isGuide }) => !isGuide),
      svg: drawing.current && wholeDrawing(drawing.current, { ...now, curves: all }),
    };
  }, []);
  const markAt = (hz: number) => marks.find((mark) => hz >= mark.fromHz && hz <= mark.toHz);
  const index = cursorHz === null ? null : nearestIndex(frequencyHz, cursorHz);
  const values = (at: number) =>
    curves
      .filter(({ values: v, isGuide }) => !isGuide && Number.isFinite(v[at]))
      .map(
        ({ label, id: curveId, values: v, axis }) =>
          `${label || curveId} ${v[at].toFixed(1)}${axis === 'right' ? ` ${rightAxis?.unit}` : ''}`,
      )
      .join('  ');
  const marked = index === null ? undefined : markAt(frequencyHz[index]);
  const reading =
    index === null
      ? ''
      : `${formatQuantity(frequencyHz[index], 'hertz')}: ${values(index)}${marked ? `  (${marked.label})` : ''}`;

  const hzAt = (event: PointerEvent) => {
    const box = drawing.current!.getBoundingClientRect();
    const share = (event.clientX - box.left - margin.left) / plotWidth;
    return share < 0 || share > 1 ? null : view.fromHz * (view.toHz / view.fromHz) ** share;
  };
  const zoomTo = (factor: number) => {
    const at = index ?? nearestIndex(frequencyHz, 632);
    const value = curves.find(
      ({ values: v, axis, isGuide }) => !isGuide && axis !== 'right' && Number.isFinite(v[at]),
    )?.values[at];
    setZoom({ factor, centreHz: frequencyHz[at], centreValue: value ?? (bottom + top) / 2 });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.target !== event.currentTarget)
      return;
    const from = index ?? nearestIndex(frequencyHz, 1000);
    const to = (place: number) =>
      onCursor(frequencyHz[Math.min(frequencyHz.length - 1, Math.max(0, place))]);
    const steps = event.shiftKey ? 16 : 1;
    const keys: Record<string, () => void> = {
      ArrowRight: () => to(from + steps),
      ArrowLeft: () => to(from - steps),
      Home: () => to(0),
      End: () => to(frequencyHz.length - 1),
      '+': () => zoomTo(Math.min(4, zoom.factor * 2)),
      '-': () => zoomTo(Math.max(1, zoom.factor / 2)),
      Enter: () => setPinnedHz(pinnedHz === cursorHz ? null : cursorHz),
      Escape: () => onCursor(null),
    };
    if (!(event.key in keys)) return;
    event.preventDefault();
    event.stopPropagation();
    keys[event.key]();
  };

  const units = useMemo(
    () => ({ left: unit, right: rightAxis?.unit ?? '' }),
    [unit, rightAxis?.unit],
  );

  return (
    <Figure ref={frame} aria-label={title} data-read={cursorHz !== null}>
      <figcaption>
        <h3>{title}</h3>
        <span>{aside}</span>
        <ExportChart title={title} units={units} shown={shown} />
      </figcaption>
      {widthPx > 0 && (
        // Handles are beside the cursor's slider, not in it: what is inside a slider is no control
        // to a screen reader.
        <div style={{ position: 'relative' }}>
          <div
            ref={drawing}
            role="slider"
            tabIndex={0}
            aria-label={`${title}: cursor`}
            aria-describedby={`${id}-keys`}
            aria-valuemin={band.fromHz}
            aria-valuemax={band.toHz}
            aria-valuenow={Math.round(cursorHz ?? band.fromHz)}
            aria-valuetext={reading || 'no cursor'}
            onKeyDown={onKeyDown}
            onPointerMove={(event) => onCursor(hzAt(event))}
            onPointerLeave={() => onCursor(null)}
            onPointerDown={(event) => setPinnedHz(hzAt(event))}
            onDoubleClick={() => zoomTo(zoom.factor === 4 ? 1 : zoom.factor * 2)}
            style={{ position: 'relative', ...size }}
          >
            <Frame
              view={view}
              plotWidth={plotWidth}
              plotHeight={plotHeight}
              rightAxis={rightAxis ?? null}
            />
            <CurveCanvas frequencyHz={frequencyHz} curves={curves} live={live} plot={plot} />
            <CurveOverlay {...{ id, plot, frequencyHz, curves, marks, cursorHz, pinnedHz, size }} />
          </div>
          <CurveWords
            frequencyHz={frequencyHz}
            curves={curves}
            unit={unit}
            rightUnit={rightAxis?.unit ?? ''}
          />
          {handles?.all.map((handle) => {
            const octaves = Math.log2(view.toHz / view.fromHz);
            const height = view.top - view.bottom;
            return (
              <Handle
                key={handle.id}
                handle={handle}
                left={margin.left + (plotWidth * Math.log2(handle.hz / view.fromHz)) / octaves}
                top={margin.top + (plotHeight * (view.top - handle.value)) / height}
                octavesPerPx={octaves / plotWidth}
                valuePerPx={height / plotHeight}
                onGrab={handles.onGrab}
                onMove={handles.onMove}
              />
            );
          })}
        </div>
      )}
      <output aria-hidden>
        {reading}
        {pinnedHz !== null && (
          <span>
            {' '}
            pinned {formatQuantity(pinnedHz, 'hertz')}:{' '}
            {values(nearestIndex(frequencyHz, pinnedHz))}
          </span>
        )}
      </output>
      <span id={`${id}-keys`} hidden>
        Arrow keys move the cursor, with Shift by a third of an octave. Plus and minus zoom. Enter
        pins. Escape takes the cursor away. Scale in {unit}.
      </span>
    </Figure>
  );
}

interface FrameProps {
  readonly view: ChartWindow;
  readonly plotWidth: number;
  readonly plotHeight: number;
  readonly rightAxis: {
    readonly bottom: number;
    readonly top: number;
    readonly ticks: number[];
  } | null;
}

/**
 * Recharts gives the axes and the grid their scales; two points at the ends keep it from asking for
 * data. It does not change while values move: the lines lie on a canvas over it.
 */
const Frame = memo(function Frame({ view, plotWidth, plotHeight, rightAxis }: FrameProps) {
  const ends = [{ hz: view.fromHz }, { hz: view.toHz }];
  const hzTicks = frequencyTicks(view.fromHz, view.toHz);
  // In a narrow chart only the decades and the lower end have room for their names.
  const named = (hz: number) =>
    plotWidth >= narrowPx || Number.isInteger(Math.log10(hz)) || hz === hzTicks[0];
  const ticks = valueTicks(view.bottom, view.top);
  const tick = { fontSize: 10, fill: 'var(--quiet)' };
  const axis = { tickLine: false, tick, axisLine: { stroke: 'var(--rule)' } } as const;
  const right = rightAxis ? margin.left : margin.right;
  return (
    <LineChart
      width={plotWidth + margin.left + right}
      height={plotHeight + margin.top + margin.bottom}
      margin={{ top: margin.top, right: rightAxis ? 0 : margin.right, bottom: 0, left: 0 }}
      data={ends}
      accessibilityLayer={false}
    >
      <CartesianGrid stroke="var(--grid)" yAxisId="left" syncWithTicks />
      <XAxis
        dataKey="hz"
        type="number"
        scale="log"
        domain={[view.fromHz, view.toHz]}
        ticks={hzTicks}
        interval={0}
        tickFormatter={(hz: number) => (named(hz) ? shortHz(hz) : '')}
        height={margin.bottom}
        allowDataOverflow
        {...axis}
      />
      <YAxis
        yAxisId="left"
        type="number"
        domain={[view.bottom, view.top]}
        ticks={ticks}
        interval={0}
        width={margin.left}
        allowDataOverflow
        {...axis}
      />
      {rightAxis && (
        <YAxis
          yAxisId="right"
          orientation="right"
          type="number"
          domain={[rightAxis.bottom, rightAxis.top]}
          ticks={rightAxis.ticks}
          interval={0}
          width={margin.left}
          allowDataOverflow
          {...axis}
        />
      )}
    </LineChart>
  );
});

const Figure = styled.figure`
  min-width: 0;
  padding: 0.4rem 0.7rem 0.3rem;
  figcaption {
    display: flex;
    align-items: center;
    gap: 0.6rem;
    min-height: 1.6rem;
    > span {
      flex: 1;
      min-width: 0;
      text-align: right;
      color: ${({ theme }) => theme.colour.quiet};
      font-size: ${({ theme }) => theme.size.small};
    }
  }
  h3 {
    font-size: 0.8125rem;
    white-space: nowrap;
  }
  [role='slider'] {
    touch-action: pan-y;
    cursor: crosshair;
  }
  svg {
    font-family: ${({ theme }) => theme.font.text};
    overflow: visible;
  }
  output {
    display: block;
    min-height: 1.1rem;
    font-size: 0.6875rem;
    line-height: 1.1rem;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    color: ${({ theme }) => theme.colour.quiet};
  }
`;
