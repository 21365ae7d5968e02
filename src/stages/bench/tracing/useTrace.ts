'use client';
import { useMemo, useState } from 'react';
import { axesOf, type PicturePoint, type TracedAxes } from '@/core/tracing/axes';
import { darkestNear, followColour } from '@/core/tracing/follow';
import { ProblemError, sentence } from '@/core/problem';
import type { SheetPicture } from './readPicture';

/** What a click on the picture does. */
export const traceModes = [
  { id: 'x1', text: 'Mark a low frequency' },
  { id: 'x2', text: 'Mark a high frequency' },
  { id: 'y1', text: 'Mark a low level' },
  { id: 'y2', text: 'Mark a high level' },
  { id: 'follow', text: 'Follow the colour' },
  { id: 'set', text: 'Set a point' },
  { id: 'erase', text: 'Erase' },
] as const;
export type TraceMode = (typeof traceModes)[number]['id'];
export type MarkId = 'x1' | 'x2' | 'y1' | 'y2';

const markIds: readonly MarkId[] = ['x1', 'x2', 'y1', 'y2'];
/** A click finds a line this near, and erases this far, pixels of the picture. */
const findPx = 4;
const erasePx = 12;

interface TraceState {
  readonly marks: Readonly<Record<MarkId, PicturePoint | null>>;
  readonly values: Readonly<Record<MarkId, number>>;
  readonly points: readonly PicturePoint[];
}

const usualValues: Record<'response' | 'impedance', TraceState['values']> = {
  response: { x1: 100, x2: 10_000, y1: 70, y2: 100 },
  impedance: { x1: 100, x2: 10_000, y1: 1, y2: 100 },
};

/** A trace of one curve of a picture: marks, points, and what clicks do. */
export function useTrace(picture: SheetPicture, kind: 'response' | 'impedance') {
  const [mode, setMode] = useState<TraceMode>('x1');
  const [marks, setMarks] = useState<TraceState['marks']>({
    x1: null,
    x2: null,
    y1: null,
    y2: null,
  });
  const [given, setGiven] = useState<Partial<TraceState['values']>>({});
  const [isLogX, setLogX] = useState(true);
  const [isLogY, setLogY] = useState(kind === 'impedance');
  const [points, setPoints] = useState<readonly PicturePoint[]>([]);
  const [tolerance, setTolerance] = useState(90);
  const [seed, setSeed] = useState<PicturePoint | null>(null);
  const values = useMemo(() => ({ ...usualValues[kind], ...given }), [kind, given]);
  const { x1, x2, y1, y2 } = marks;
  const { axes, trouble } = useMemo((): { axes: TracedAxes | null; trouble: string | null } => {
    if (!x1 || !x2 || !y1 || !y2) return { axes: null, trouble: null };
    try {
      const across = {
        isLogarithmic: isLogX,
        at: [x1, x2],
        values: [values.x1, values.x2],
      } as const;
      const up = { isLogarithmic: isLogY, at: [y1, y2], values: [values.y1, values.y2] } as const;
      return { axes: axesOf(across, up), trouble: null };
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      return { axes: null, trouble: sentence(error.problem) };
    }
  }, [x1, x2, y1, y2, values, isLogX, isLogY]);

  /** Follows the colour of a place within what the marks enclose, or the whole picture. */
  const follow = (from: PicturePoint, within: number) => {
    const all = { left: 0, top: 0, right: picture.width - 1, bottom: picture.height - 1 };
    setSeed(from);
    setPoints(followColour(picture, from, within, all));
  };
  const click = (at: PicturePoint) => {
    const mark = markIds.find((id) => id === mode);
    if (mark) {
      setMarks((before) => ({ ...before, [mark]: at }));
      const next = markIds.find((id) => id !== mark && marks[id] === null);
      setMode(next ?? 'follow');
      return;
    }
    if (mode === 'follow') follow(darkestNear(picture, at, findPx), tolerance);
    if (mode === 'set')
      setPoints((before) =>
        [...before.filter(({ x }) => Math.abs(x - at.x) > findPx), at].sort((a, b) => a.x - b.x),
      );
    if (mode === 'erase')
      setPoints((before) => before.filter(({ x, y }) => Math.hypot(x - at.x, y - at.y) > erasePx));
  };
  return {
    ...{ mode, setMode, marks, values, isLogX, setLogX, isLogY, setLogY, points, tolerance },
    ...{ axes, trouble, click },
    setValue: (id: MarkId, value: number) => setGiven((before) => ({ ...before, [id]: value })),
    clear: () => setPoints([]),
    setTolerance(next: number) {
      setTolerance(next);
      if (seed) follow(seed, next);
    },
  };
}

export type Trace = ReturnType<typeof useTrace>;
