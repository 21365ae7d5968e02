import type { Prediction } from '@/core/design/prediction';
import type { Curve } from '@/ui/chart/curve';
import { curveStyle } from '@/ui/theme';

export interface NamedWay {
  readonly id: string;
  readonly name: string;
  readonly style: ReturnType<typeof curveStyle>;
}

/** Ways from lines of id, tab, name. */
export const waysOf = (names: string): NamedWay[] =>
  names.split('\n').map((line, index) => {
    const [id, name] = line.split('\t');
    return { id, name, style: curveStyle(index) };
  });

/** The curves of the shelf's charts. */
export interface ShelfCurves {
  readonly onAxis: readonly Curve[];
  readonly reversal: readonly Curve[];
  readonly load: readonly Curve[];
}

/** The way shown reversed: the chosen one, or without a choice the second of three, the last of fewer. */
export function reversedWay({ ways }: Prediction, chosen: string | null): string | null {
  const way = ways.find(({ wayId }) => wayId === chosen) ?? ways.at(ways.length > 2 ? 1 : -1);
  return way?.wayId ?? null;
}

/**
 * What the charts of the shelf show of a prediction. It may be a moment older than the document: a way that was just
 * removed is not drawn.
 */
export function shelfCurves(
  { ways, sum, impedance }: Prediction,
  named: readonly NamedWay[],
  reversed: string | null,
): ShelfCurves {
  const onAxis: Curve[] = [];
  const reversal: Curve[] = [];
  const load: Curve[] = [];
  for (const { wayId, levelDb, sumIfReversedDb } of ways) {
    const way = named.find(({ id }) => id === wayId);
    if (!way) continue;
    onAxis.push({ id: wayId, label: way.name.toLowerCase(), values: levelDb, ...way.style });
    if (wayId === reversed)
      reversal.push({ id: 'reversed', label: 'reversed', values: sumIfReversedDb, ...way.style });
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
