'use client';
import { useMemo } from 'react';
import type { Panel } from '@/core/document/baffleSchema';
import { useRegisterActions, type Action } from '@/desk/actions';
import { useDeskState } from '@/desk/DeskContext';
import { focusTab } from '@/ui/focusTab';
import type { Chosen } from './chosen';
import type { Compared } from './useCompared';

/** What lies beside the drawing. */
export const sides = [
  { id: 'chosen', name: 'Selected' },
  { id: 'places', name: 'Places' },
  { id: 'spacing', name: 'Spacing' },
] as const;
export type SideId = (typeof sides)[number]['id'];

interface BaffleActions {
  readonly panel: Panel;
  readonly chosen: Chosen;
  readonly choose: (chosen: Chosen) => void;
  readonly compared: Compared;
  readonly setSide: (side: SideId) => void;
}

/** Keys of the baffle. */
export function useBaffleActions({
  panel,
  chosen,
  choose,
  compared,
  setSide,
}: BaffleActions): void {
  const drivers = useDeskState((state) => state.design.drivers);
  const own = useMemo(
    () => drivers.filter(({ mounting }) => mounting.panelId === panel.id).map(({ id }) => id),
    [drivers, panel.id],
  );
  const actions = useMemo<Action[]>(
    () => [
      ...sides.map(({ id, name }, i) => ({
        id: `baffle-${id}`,
        group: 'Baffle',
        name: `Lay out: ${name.toLowerCase()}`,
        keys: [`Alt+${i + 1}`],
        run: () => {
          setSide(id);
          focusTab(id);
        },
      })),
      {
        id: 'baffle-next-driver',
        group: 'Baffle',
        name: 'Choose the next driver',
        keys: ['N'],
        isDisabled: own.length === 0,
        run: () => {
          const at = chosen.kind === 'driver' ? own.indexOf(chosen.id) : -1;
          choose({ kind: 'driver', id: own[(at + 1) % own.length] });
        },
      },
      {
        id: 'baffle-front',
        group: 'Baffle',
        name: 'Choose the front',
        keys: ['F'],
        run: () => choose({ kind: 'front' }),
      },
      {
        id: 'baffle-seat',
        group: 'Baffle',
        name: 'Choose the seat',
        keys: ['S'],
        run: () => choose({ kind: 'seat' }),
      },
      {
        id: 'baffle-keep',
        group: 'Baffle',
        name: compared.isOwn ? 'Forget layout B' : 'Keep this layout as B',
        keys: ['B'],
        run: compared.isOwn ? compared.forget : compared.keep,
      },
      {
        id: 'baffle-exchange',
        group: 'Baffle',
        name: 'Exchange this layout and B',
        keys: ['X'],
        isDisabled: !compared.isOwn,
        run: compared.swap,
      },
    ],
    [own, chosen, choose, compared, setSide],
  );
  useRegisterActions(actions);
}
