import { targetBandDb } from '@/core/prediction/figures';
import { sumIfReversedDb } from '@/core/prediction/derived';
import type { JudgedAlternative } from '@/core/insight/sideBySide';
import type { Prediction } from '@/core/prediction/prediction';
import type { DesignPromise } from '@/core/promises/promise';
import type { Curve } from '@/ui/chart/curve';
import { curveStyle } from '@/ui/theme';

export interface NamedWay {
  readonly id: string;
  readonly name: string;
  readonly style: ReturnType<typeof curveStyle>;
}

/** Ways by their ids, in the design's order. */
export const waysOf = (names: ReadonlyMap<string, string>): NamedWay[] =>
  [...names].map(([id, name], index) => ({ id, name, style: curveStyle(index) }));

/** The curves of the shelf's charts. */
export interface ShelfCurves {
  readonly onAxis: readonly Curve[];
  readonly reversal: readonly Curve[];
  readonly load: readonly Curve[];
}

/**
 * The way shown reversed: the chosen one, or without a choice the second of three, the last of
 * fewer.
 */
export function reversedWay({ ways }: Prediction, chosen: string | null): string | null {
  const way = ways.find(({ wayId }) => wayId === chosen) ?? ways.at(ways.length > 2 ? 1 : -1);
  return way?.wayId ?? null;
}

/** What the curves are held against. */
export interface Comparison {
  /** Curves of a pinned state. */
  readonly reference: Prediction | null;
  readonly promises: readonly DesignPromise[];
  /** Positions of switches, drawn beside the chosen ones. */
  readonly alternatives: readonly JudgedAlternative[];
}

const nothing: Comparison = { reference: null, promises: [], alternatives: [] };
const limit = {
  colour: 'var(--accent)',
  width: 1,
  dash: '1 3',
  label: '',
  isGuide: true,
} as const;

/**
 * What the charts of the shelf show of a prediction. It may be a moment older than the document: a
 * way that was just removed is not drawn. What it is held against lies under it.
 */
export function shelfCurves(
  { frequencyHz, ways, sum, impedance, loads }: Prediction,
  named: readonly NamedWay[],
  reversed: string | null,
  { reference, promises, alternatives }: Comparison = nothing,
): ShelfCurves {
  const onAxis: Curve[] = [];
  const reversal: Curve[] = [];
  const load: Curve[] = [];
  const flatness = promises.find(({ kind }) => kind === 'on-axis');
  if (sum && flatness?.band && flatness.atMost !== null) {
    const { band, atMost, conditions } = flatness;
    const around = targetBandDb(frequencyHz, sum.levelDb, conditions.target, band, atMost);
    if (around)
      onAxis.push(
        { ...limit, id: 'target-high', values: around.high },
        { ...limit, id: 'target-low', values: around.low },
      );
  }
  const floor = promises.find(({ kind }) => kind === 'lowest-impedance')?.atLeast;
  if (impedance && floor)
    load.push({
      ...limit,
      id: 'floor',
      label: 'floor',
      labelAt: 'start',
      values: new Float64Array(frequencyHz.length).fill(floor),
    });
  if (reference?.sum) onAxis.push({ ...under, values: reference.sum.levelDb });
  for (const predicted of ways) {
    const { wayId, levelDb } = predicted;
    const way = named.find(({ id }) => id === wayId);
    if (!way) continue;
    onAxis.push({ id: wayId, label: way.name.toLowerCase(), values: levelDb, ...way.style });
    if (sum && wayId === reversed)
      reversal.push({
        ...{ id: 'reversed', label: 'reversed', ...way.style },
        values: sumIfReversedDb(sum, predicted),
      });
  }
  if (sum) {
    const line = {
      id: 'sum',
      values: sum.levelDb,
      colour: 'var(--ink)',
      labelAt: 'start',
    } as const;
    onAxis.push({ ...line, label: 'sum', width: 2 });
    reversal.push({ ...line, label: 'as it is', width: 1.6 });
  }
  const beside = alternatives.filter(({ isChosen }) => !isChosen);
  for (const { positionId, name, sumDb, ohms } of beside) {
    const line = { ...other, id: `beside-${positionId}`, label: name };
    if (sumDb) onAxis.push({ ...line, values: sumDb });
    if (ohms) load.push({ ...line, values: ohms });
  }
  if (loads.length > 1)
    for (const { pairId, name, ohms } of loads)
      load.push({ ...other, id: `load-${pairId}`, label: name, values: ohms });
  if (reference?.impedance) load.push({ ...under, values: reference.impedance.ohms });
  if (impedance)
    load.push(
      {
        id: 'phase',
        label: 'phase',
        values: impedance.phaseDeg,
        colour: 'var(--curve-5)',
        dash: '2 3',
        axis: 'right',
        width: 1.2,
      },
      {
        id: 'impedance',
        label: '|Z|',
        values: impedance.ohms,
        colour: 'var(--ink)',
        width: 2,
        labelAt: 'start',
      },
    );
  return { onAxis, reversal, load };
}

const other = { colour: 'var(--quiet)', width: 1.2, dash: '6 2 1 2' } as const;
const under = { id: 'pinned', label: 'pinned', colour: 'var(--quiet)', width: 1 } as const;

/**
 * {@link shelfCurves} for several charts that ask one after the other: made once for each
 * prediction.
 */
export function createShelfCurves(
  named: readonly NamedWay[],
  reversed: string | null,
  reference: Prediction | null,
) {
  let last: { readonly prediction: Prediction; readonly curves: ShelfCurves } | null = null;
  return (
    prediction: Prediction,
    promises: readonly DesignPromise[],
    alternatives: readonly JudgedAlternative[],
  ): ShelfCurves => {
    if (last?.prediction !== prediction) {
      const beside = { reference, promises, alternatives };
      last = { prediction, curves: shelfCurves(prediction, named, reversed, beside) };
    }
    return last.curves;
  };
}
