'use client';
import { memo, useCallback, useEffect, useLayoutEffect, useMemo, useRef } from 'react';
import type { Curve, LiveCurves } from './curve';
import type { Plot } from './plot';
import { useThemeVersion } from './useThemeVersion';

interface CurveCanvasProps {
  readonly frequencyHz: Float64Array;
  readonly curves: readonly Curve[];
  readonly live: LiveCurves | undefined;
  readonly plot: Plot;
}

/** Sharp enough for paper. */
const printScale = 4;

/**
 * The lines of a chart. On a canvas, since most of the time between a key stroke and its picture
 * went into the raster of paths. Live curves go straight onto it, before React has looked at
 * anything else that changed.
 */
export const CurveCanvas = memo(function CurveCanvas({
  frequencyHz,
  curves,
  live,
  plot,
}: CurveCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const newest = useRef(curves);
  const theme = useThemeVersion();
  const places = useMemo(
    () => frequencyHz.map((hz) => plot.x(hz) - plot.area.x),
    [frequencyHz, plot],
  );
  const colours = useMemo((): KnownColours => ({ theme, known: new Map() }), [theme]);
  const draw = useCallback(
    (set: readonly Curve[], scale = window.devicePixelRatio) => {
      newest.current = set;
      if (canvas.current) drawCurves(canvas.current, set, places, plot, scale, colours);
    },
    [places, plot, colours],
  );
  useLayoutEffect(() => draw(curves), [draw, curves]);
  useEffect(() => live?.(draw), [live, draw]);
  useEffect(() => {
    const onPaper = () => draw(newest.current, printScale);
    const onScreen = () => draw(newest.current);
    window.addEventListener('beforeprint', onPaper);
    window.addEventListener('afterprint', onScreen);
    return () => {
      window.removeEventListener('beforeprint', onPaper);
      window.removeEventListener('afterprint', onScreen);
    };
  }, [draw]);
  const { x, y, width, height } = plot.area;
  return (
    <canvas
      ref={canvas}
      aria-hidden
      style={{ position: 'absolute', left: x, top: y, width, height, pointerEvents: 'none' }}
    />
  );
});

function drawCurves(
  canvas: HTMLCanvasElement,
  curves: readonly Curve[],
  places: Float64Array,
  { area, y }: Plot,
  scale: number,
  colours: KnownColours,
): void {
  const [width, height] = [Math.round(area.width * scale), Math.round(area.height * scale)];
  if (canvas.width !== width || canvas.height !== height) {
    canvas.width = width;
    canvas.height = height;
  }
  const pen = canvas.getContext('2d')!;
  pen.setTransform(scale, 0, 0, scale, 0, 0);
  pen.clearRect(0, 0, area.width, area.height);
  pen.lineJoin = 'round';
  for (const curve of curves) {
    const { values, colour, dash, width: lineWidth = 1.4 } = curve;
    if (values.length !== places.length) continue;
    const toY = y(curve);
    let isDown = false;
    pen.beginPath();
    for (let i = 0; i < values.length; i++) {
      const py = toY(values[i]) - area.y;
      if (!Number.isFinite(py)) isDown = false;
      else if (isDown) pen.lineTo(places[i], py);
      else {
        pen.moveTo(places[i], py);
        isDown = true;
      }
    }
    pen.strokeStyle = resolved(canvas, colour, colours);
    pen.lineWidth = lineWidth;
    pen.setLineDash(dash ? dash.split(' ').map(Number) : []);
    pen.stroke();
  }
}

/** Colours that were looked up, of one theme. */
interface KnownColours {
  readonly theme: number;
  readonly known: Map<string, string>;
}

/**
 * A colour as a canvas takes it: variables are known to style sheets only, and asking for their
 * values takes a while.
 */
function resolved(canvas: HTMLCanvasElement, colour: string, { known }: KnownColours): string {
  const found =
    known.get(colour) ??
    colour.replace(/var\((--[\w-]+)\)/g, (_, name: string) =>
      getComputedStyle(canvas).getPropertyValue(name).trim(),
    );
  known.set(colour, found);
  return found;
}
