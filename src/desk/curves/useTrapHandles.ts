'use client';
import { nearestIndex } from '@/core/grid/nearest';
import { newId } from '@/ui/newId';
import { useWorkbenchAnswer, type Question } from '@/desk/useWorkbenchAnswer';
import { followedLoss, partValue } from '@/core/document/partKinds';
import { useCallback, useDeferredValue, useMemo, useRef } from 'react';
import { arrangeWay } from '@/core/editing/change';
import type { Prediction } from '@/core/prediction/prediction';
import { partsOf } from '@/core/document/schema';
import { partsFor, trapOnLine } from '@/core/filters/startingPoints';
import {
  trapFigures,
  trapHz,
  trapsOf,
  trapValues,
  type Trap,
  type TrapFigures,
} from '@/core/filters/traps';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import type { ChartHandles } from '@/ui/chart/FrequencyChart';
import type { HandleMove } from '@/ui/chart/Handle';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { mergeWithinMs, runKey } from '@/desk/history';

const limits = { mostDb: 20, leastDb: 0.2, leastOctaves: 0.1, mostOctaves: 5 };
const within = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));

interface Grabbed {
  readonly trap: Trap;
  readonly ohms: number;
  readonly figures: TrapFigures;
  /**
   * One hold is one step to undo, however long it takes. Holds that follow each other quickly, as
   * of a key, are one too.
   */
  readonly run: string;
  readonly movedAtMs: number;
}

/**
 * The network's traps as handles on the summed curve, and a way to have a bump pulled down by a new
 * one.
 */
export function useTrapHandles(prediction: Prediction): {
  readonly handles: ChartHandles;
  readonly pullDown: (nearHz: number | null) => void;
} {
  const desk = useDesk();
  // Handles may come a moment after the curves.
  const ways = useDeferredValue(useDeskState((state) => state.design.ways));
  const loads = useTrapLoads();
  const grabbed = useRef<Grabbed | null>(null);
  const { frequencyHz, sum } = prediction;

  const onGrab = useCallback(
    (id: string) => {
      const trap = trapsOf(desk.store.getState().design).find(({ groupId }) => groupId === id);
      const ohms = loads.get(id);
      const before = grabbed.current;
      if (!trap || ohms === undefined) return;
      const isSoon =
        before?.trap.groupId === id && performance.now() - before.movedAtMs < mergeWithinMs;
      grabbed.current = {
        trap,
        ohms,
        figures: trapFigures(trap, ohms),
        run: isSoon ? before.run : runKey(`trap ${crypto.randomUUID()}`),
        movedAtMs: performance.now(),
      };
    },
    [desk, loads],
  );
  const onMove = useCallback(
    (id: string, { octaves, value, widerBy }: HandleMove) => {
      const held = grabbed.current;
      if (held?.trap.groupId !== id) return;
      const { trap, ohms, figures, run } = held;
      grabbed.current = { ...held, movedAtMs: performance.now() };
      const next = trapValues(
        trap.kind,
        {
          hz: within(figures.hz * 2 ** octaves, 20, 20_000),
          db: within(figures.db - value, limits.leastDb, limits.mostDb),
          octaves: within(figures.octaves + widerBy, limits.leastOctaves, limits.mostOctaves),
        },
        ohms,
      );
      const { resistor, coil, capacitor } = trap;
      const coilOhms = followedLoss(coil, next.henries / partValue(coil));
      desk.change(
        {
          type: 'setPartValues',
          values: new Map([
            [resistor.id, { value: next.ohms, seriesOhms: null }],
            [coil.id, { value: next.henries, seriesOhms: coilOhms }],
            [capacitor.id, { value: next.farads, seriesOhms: null }],
          ]),
        },
        `move the trap ${trap.name}`,
        run,
      );
    },
    [desk],
  );
  const handles = useMemo(
    () => ({
      onGrab,
      onMove,
      all: trapsOf({ ways }).flatMap((trap) => {
        const ohms = loads.get(trap.groupId);
        const hz = trapHz(trap);
        const value = sum?.levelDb[nearestIndex(frequencyHz, hz)] ?? NaN;
        if (ohms === undefined || !Number.isFinite(value)) return [];
        const { db, octaves } = trapFigures(trap, ohms);
        const text = `${formatFixed(db, 1)} dB at ${formatQuantity(Number(hz.toPrecision(3)), 'hertz')}, ${formatFixed(octaves, 1)} octaves wide`;
        return [{ id: trap.groupId, label: `Trap ${trap.name}`, hz, value, text }];
      }),
    }),
    [onGrab, onMove, ways, loads, sum, frequencyHz],
  );
  const pullDown = useCallback(
    (nearHz: number | null) => {
      const { design } = desk.store.getState();
      void desk
        .workbench()
        .proposeTrap(design, nearHz)
        .then((found) => {
          const way = found && design.ways.find(({ id }) => id === found.wayId);
          if (!way || desk.store.getState().design !== design) return;
          const made = partsFor(
            trapOnLine(found.values),
            new Set(partsOf(design).map(({ name }) => name)),
            () => newId('part'),
          );
          desk.change(
            arrangeWay(way.id, {
              parts: [...way.parts, ...made.parts],
              groups: [...way.groups, ...made.groups],
            }),
            `trap at ${formatQuantity(Number(found.hz.toPrecision(3)), 'hertz')} on ${way.name}`,
          );
          focusHandle(made.groups[0].id);
        })
        .catch(() => undefined);
    },
    [desk],
  );
  return { handles, pullDown };
}

/** What the traps work against, once the network rests. */
function useTrapLoads(): ReadonlyMap<string, number> {
  const design = useDeferredValue(useDeskState((state) => state.design));
  const hasTraps = trapsOf(design).length > 0;
  const question = useCallback<Question<ReadonlyMap<string, number>>>(
    (workbench) => workbench.trapLoads(design),
    [design],
  );
  return useWorkbenchAnswer(hasTraps ? question : null).value ?? noLoads;
}

const noLoads: ReadonlyMap<string, number> = new Map();

/** The handle comes once it is known what the trap works against. */
function focusHandle(id: string, triesLeft = 60): void {
  setTimeout(() => {
    const handle = document.querySelector<HTMLElement>(`[data-handle="${id}"]`);
    if (handle) handle.focus();
    else if (triesLeft > 0) focusHandle(id, triesLeft - 1);
  }, 50);
}
