'use client';
import { useRef, useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import styled from 'styled-components';
import type { Target } from '@/core/document/briefSchema';
import { houseTargets, inOrder, targetDb } from '@/core/document/target';
import { ProblemError, sentence } from '@/core/problem';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { QuantityBlank } from '@/ui/fields/Blank';
import { Button } from '@/ui/Button';
import { Choice } from '@/ui/fields/Choice';
import { Note, Quiet, Sentence } from '@/ui/sheets';
import { readTarget } from '@/workers/filesClient';
import { Card } from './Sheets';

type Kind = Target['kind'];

const kindOptions: readonly { id: Kind; text: string }[] = [
  { id: 'flat', text: 'flat' },
  { id: 'tilt', text: 'tilted' },
  { id: 'shelf', text: 'stepped (shelf)' },
  { id: 'points', text: 'drawn by points' },
];

/** A target of another kind over the same band; points begin on the shape that was there. */
function ofKind(target: Target, kind: Kind): Target {
  const { fromHz, toHz } = target;
  switch (kind) {
    case 'flat':
      return { kind, fromHz, toHz };
    case 'tilt':
      return { kind, fromHz, toHz, dbPerOctave: -0.3 };
    case 'shelf':
      return { kind, fromHz, toHz, stepHz: 200, lowsDb: 2 };
    case 'points':
      return {
        kind,
        fromHz,
        toHz,
        points: [50, 200, 1000, 4000, 15_000].map((hz) => ({
          hz,
          db: Math.round(targetDb(target, hz) * 10) / 10,
        })),
      };
  }
}

/** The shape that the response shall have, and the band in which it counts. */
export function TargetCard() {
  const desk = useDesk();
  const target = useDeskState((state) => state.design.target);
  const [trouble, setTrouble] = useState<string | null>(null);
  const set: SetTarget = (edit, key) => {
    const next = typeof edit === 'function' ? edit(desk.store.getState().design.target) : edit;
    desk.change({ type: 'setTarget', target: next }, 'set the target', key && `target ${key}`);
  };
  const house = houseTargets.find(({ shape }) =>
    Object.entries(shape).every(([key, value]) => target[key as keyof Target] === value),
  );
  const read = async (files: FileList | null) => {
    const [file] = files ?? [];
    if (!file) return;
    try {
      set({
        kind: 'points',
        fromHz: target.fromHz,
        toHz: target.toHz,
        points: await readTarget(file),
      });
      setTrouble(null);
    } catch (error) {
      setTrouble(error instanceof ProblemError ? sentence(error.problem) : String(error));
    }
  };
  return (
    <Card aria-label="Target">
      <header>
        <h3>Target on axis</h3>
        <Quiet>{house ? `${house.name}: ${house.why}` : 'a shape of your own'}</Quiet>
      </header>
      <Columns>
        <div>
          <Sentence>
            <Choice<string>
              label="House target"
              options={houseTargets.map(({ name }) => ({ id: name, text: name }))}
              value={house?.name ?? null}
              placeholder="your own"
              onChange={(name) => {
                const { shape } = houseTargets.find((one) => one.name === name)!;
                set({ ...shape, fromHz: target.fromHz, toHz: target.toHz });
              }}
            />
            <Choice<Kind>
              label="Shape"
              options={kindOptions}
              value={target.kind}
              onChange={(kind) => set(ofKind(target, kind))}
            />
          </Sentence>
          <Shape target={target} set={set} />
          <Sentence>
            It counts from{' '}
            <QuantityBlank
              label="Target from"
              value={target.fromHz}
              dimension="hertz"
              min={10}
              max={target.toHz * 0.9}
              stepBy={10}
              onChange={(fromHz) => fromHz !== null && set({ ...target, fromHz }, 'from')}
            />{' '}
            to{' '}
            <QuantityBlank
              label="Target to"
              value={target.toHz}
              dimension="hertz"
              min={target.fromHz * 1.1}
              max={40_000}
              stepBy={500}
              onChange={(toHz) => toHz !== null && set({ ...target, toHz }, 'to')}
            />
            .
          </Sentence>
          <FileTrigger onSelect={(files) => void read(files)}>
            <Button>Read it from a table …</Button>
          </FileTrigger>
          {trouble && <Note $kind="alarm">{trouble}</Note>}
        </div>
        <Plot target={target} set={set} />
      </Columns>
    </Card>
  );
}

/** Takes a new target, or how it follows from the one that is there, which may be ahead of what is drawn. */
type SetTarget = (edit: Target | ((now: Target) => Target), key?: string) => void;

interface ShapeProps {
  readonly target: Target;
  readonly set: SetTarget;
}

function Shape({ target, set }: ShapeProps) {
  if (target.kind === 'tilt')
    return (
      <Sentence>
        It changes by{' '}
        <QuantityBlank
          label="Tilt per octave"
          value={target.dbPerOctave}
          dimension="decibel"
          min={-6}
          max={6}
          stepBy={0.1}
          onChange={(value) => value !== null && set({ ...target, dbPerOctave: value }, 'tilt')}
        />{' '}
        per octave.
      </Sentence>
    );
  if (target.kind === 'shelf')
    return (
      <Sentence>
        Below{' '}
        <QuantityBlank
          label="Step at"
          value={target.stepHz}
          dimension="hertz"
          min={20}
          max={20_000}
          stepBy={10}
          onChange={(value) => value !== null && set({ ...target, stepHz: value }, 'step')}
        />{' '}
        it is{' '}
        <QuantityBlank
          label="Step of the lows"
          value={target.lowsDb}
          dimension="decibel"
          min={-30}
          max={30}
          stepBy={0.5}
          onChange={(value) => value !== null && set({ ...target, lowsDb: value }, 'lows')}
        />{' '}
        higher.
      </Sentence>
    );
  if (target.kind === 'points')
    return (
      <p>
        {target.points.length} points. Drag them, or go through them with Tab and move them with the
        arrow keys. A press on the empty plot adds one, Delete removes the one in focus.
      </p>
    );
  return null;
}

const limited = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));

type TargetPoint = Extract<Target, { kind: 'points' }>['points'][number];

/** The points with one moved, which stays between its neighbours. */
function withMoved(
  points: readonly TargetPoint[],
  index: number,
  moved: (point: TargetPoint) => TargetPoint,
): readonly TargetPoint[] {
  const { hz, db } = moved(points[index]);
  const before = points[index - 1]?.hz ?? 10;
  const after = points[index + 1]?.hz ?? 40_000;
  return points.with(index, { hz: Math.min(after * 0.98, Math.max(before * 1.02, hz)), db });
}

const size = { width: 300, height: 132, left: 26, bottom: 16 };
const reach = { fromHz: 20, toHz: 20_000, db: 12 };
const plotWidth = size.width - size.left;
const plotHeight = size.height - size.bottom;
const xOf = (hz: number) =>
  size.left + (plotWidth * Math.log(hz / reach.fromHz)) / Math.log(reach.toHz / reach.fromHz);
const yOf = (db: number) => (plotHeight * (reach.db - db)) / (2 * reach.db);
const samplesHz = Array.from({ length: 91 }, (_, i) => 20 * 10 ** (i / 30));

/** The shape as a small drawing; with points it is drawn here. */
function Plot({ target, set }: ShapeProps) {
  const drawing = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<number | null>(null);
  const at = (event: { clientX: number; clientY: number }) => {
    const box = drawing.current!.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * size.width - size.left;
    const y = ((event.clientY - box.top) / box.height) * size.height;
    return {
      hz: Number(
        limited(
          reach.fromHz * (reach.toHz / reach.fromHz) ** (x / plotWidth),
          20,
          20_000,
        ).toPrecision(3),
      ),
      db:
        Math.round(limited(reach.db - (2 * reach.db * y) / plotHeight, -reach.db, reach.db) * 10) /
        10,
    };
  };
  const isDrawn = target.kind === 'points';
  const points = isDrawn ? target.points : [];
  const edit = (points: (now: readonly TargetPoint[]) => readonly TargetPoint[], key?: string) =>
    set((now) => (now.kind === 'points' ? { ...now, points: [...points(now.points)] } : now), key);
  const place = (index: number, moved: (point: TargetPoint) => TargetPoint) =>
    edit((now) => withMoved(now, index, moved), 'points');
  return (
    <svg
      ref={drawing}
      viewBox={`0 0 ${size.width} ${size.height}`}
      width={size.width}
      height={size.height}
      role="group"
      aria-label="Target curve"
      onPointerDown={(event) => {
        if (!isDrawn || event.target instanceof SVGCircleElement) return;
        edit((now) => inOrder([...now, at(event)]));
      }}
      onPointerMove={(event) => held !== null && place(held, () => at(event))}
      onPointerUp={() => setHeld(null)}
      onPointerLeave={() => setHeld(null)}
      style={{ touchAction: 'none' }}
    >
      {[-10, -5, 0, 5, 10].map((db) => (
        <g key={db}>
          <path d={`M${size.left} ${yOf(db)}H${size.width}`} stroke="var(--grid)" />
          <text x={size.left - 4} y={yOf(db) + 3} textAnchor="end" fontSize="9" fill="var(--quiet)">
            {formatFixed(db, 0)}
          </text>
        </g>
      ))}
      {[20, 200, 2000, 20_000].map((hz) => (
        <g key={hz}>
          <path d={`M${xOf(hz)} 0V${plotHeight}`} stroke="var(--grid)" />
          <text
            x={xOf(hz)}
            y={size.height - 4}
            textAnchor={hz > 9999 ? 'end' : 'middle'}
            fontSize="9"
            fill="var(--quiet)"
          >
            {formatQuantity(hz, 'hertz')}
          </text>
        </g>
      ))}
      <rect
        x={xOf(target.fromHz)}
        width={Math.max(0, xOf(Math.min(20_000, target.toHz)) - xOf(target.fromHz))}
        height={plotHeight}
        fill="var(--accent-wash)"
        opacity="0.6"
      />
      <path
        data-target
        d={samplesHz
          .map(
            (hz, i) =>
              `${i === 0 ? 'M' : 'L'}${xOf(hz).toFixed(1)} ${yOf(targetDb(target, hz)).toFixed(1)}`,
          )
          .join('')}
        fill="none"
        stroke="var(--accent)"
        strokeWidth="1.8"
      />
      {isDrawn &&
        points.length <= 24 &&
        points.map((point, i) => (
          <circle
            key={i}
            cx={xOf(point.hz)}
            cy={yOf(point.db)}
            r="5"
            fill="var(--raised)"
            stroke="var(--accent)"
            strokeWidth="1.5"
            role="slider"
            tabIndex={0}
            aria-label={`Point ${i + 1} of the target`}
            aria-valuemin={-reach.db}
            aria-valuemax={reach.db}
            aria-valuenow={point.db}
            aria-valuetext={`${formatQuantity(point.hz, 'hertz')}, ${formatFixed(point.db, 1)} dB`}
            onPointerDown={() => setHeld(i)}
            onKeyDown={(event) => {
              const louder = (tenths: number) =>
                place(i, ({ hz, db }) => ({
                  hz,
                  db: limited(Math.round(db * 10 + tenths) / 10, -reach.db, reach.db),
                }));
              const higher = (semitones: number) =>
                place(i, ({ hz, db }) => ({ hz: hz * 2 ** (semitones / 12), db }));
              const move: Record<string, () => void> = {
                ArrowUp: () => louder(1),
                ArrowDown: () => louder(-1),
                ArrowRight: () => higher(1),
                ArrowLeft: () => higher(-1),
                Delete: () => edit((now) => (now.length > 2 ? now.toSpliced(i, 1) : now)),
              };
              if (!(event.key in move)) return;
              event.preventDefault();
              event.stopPropagation();
              move[event.key]();
            }}
          />
        ))}
    </svg>
  );
}

const Columns = styled.div`
  display: flex;
  gap: 1.5rem;
  align-items: flex-start;
  > div {
    display: grid;
    gap: 0.5rem;
    justify-items: start;
    flex: 1;
    min-width: 0;
  }
  p,
  [role='paragraph'] {
    line-height: 1.8;
  }
  :is(p, [role='paragraph']):first-child {
    display: flex;
    gap: 0.8rem;
  }
  svg circle:focus-visible {
    outline: 2px solid ${({ theme }) => theme.colour.accent};
    outline-offset: 2px;
  }
`;
