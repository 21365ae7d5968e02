'use client';
import { partKinds, kindsOfParts } from '@/core/document/partKinds';
import { useEffect, useMemo } from 'react';
import type { PartKind, Place } from '@/core/document/schema';
import { useRegisterActions, type Action } from '@/desk/actions';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { placeWords } from './partWords';
import { useNetworkEdits } from './useNetworkEdits';

/** Kind, place and key: a part's own letter, with Shift in shunt. */
const adding = (['series', 'shunt'] as const).flatMap((place) =>
  kindsOfParts.map((kind): readonly [PartKind, Place, string] => {
    const { letter } = partKinds[kind];
    return [kind, place, place === 'series' ? letter : `Shift+${letter}`];
  }),
);

/** Offers the actions of the network with their keys, and holds a part bypassed while B is down. */
export function useNetworkActions(): void {
  const desk = useDesk();
  const edits = useNetworkEdits();
  const selection = useDeskState((state) => state.selection);
  const isPart = selection?.kind === 'part';

  const actions = useMemo<Action[]>(() => {
    const withSelection = (run: (chosen: NonNullable<typeof selection>) => void) => () =>
      selection && run(selection);
    return [
      ...adding.map(([kind, place, key]) => ({
        id: `add-${kind}-${place}`,
        group: 'Network',
        name: `Add a ${partKinds[kind].word} ${placeWords[place]}`,
        keys: [key],
        isDisabled: !selection,
        run: withSelection((chosen) => edits.addAt(chosen, kind, place)),
      })),
      {
        id: 'remove',
        group: 'Network',
        name: 'Remove what is selected',
        keys: ['Delete', 'Backspace'],
        isDisabled: !selection || selection.kind === 'gap',
        run: withSelection((chosen) => edits.remove(chosen)),
      },
      {
        id: 'turn',
        group: 'Network',
        name: 'Turn the part between series and shunt',
        keys: ['T'],
        isDisabled: !isPart,
        run: withSelection((chosen) => edits.turn(chosen)),
      },
      ...(
        [
          [
            'join-series',
            'Join the part in series with the next',
            'G',
            (s) => edits.joinNext(s, 'series'),
          ],
          [
            'join-parallel',
            'Join the part in parallel with the next',
            'Shift+G',
            (s) => edits.joinNext(s, 'parallel'),
          ],
          ['ungroup', 'Take the group of the part apart', 'U', (s) => edits.ungroup(s)],
          ['switch', 'Leave the part out, or take it in again', 'X', (s) => edits.switchPart(s)],
          ['lock', 'Lock or unlock the value of the part', 'K', (s) => edits.lock(s)],
          ['free', 'Free the part for fitting, or fix it', 'F', (s) => edits.free(s)],
        ] as const satisfies readonly (readonly [
          string,
          string,
          string,
          (chosen: NonNullable<typeof selection>) => void,
        ])[]
      ).map(([id, name, key, run]) => ({
        id,
        group: 'Network',
        name,
        keys: [key],
        isDisabled: !isPart,
        run: withSelection(run),
      })),
      {
        id: 'flip',
        group: 'Network',
        name: 'Flip the polarity of the way',
        keys: ['P'],
        isDisabled: !selection,
        run: withSelection((chosen) => edits.flip(chosen)),
      },
      {
        id: 'move-left',
        group: 'Network',
        name: 'Move the part toward the amplifier',
        keys: ['Alt+ArrowLeft'],
        isDisabled: !isPart,
        run: withSelection((chosen) => edits.moveAlong(chosen, -1)),
      },
      {
        id: 'move-right',
        group: 'Network',
        name: 'Move the part toward the driver',
        keys: ['Alt+ArrowRight'],
        isDisabled: !isPart,
        run: withSelection((chosen) => edits.moveAlong(chosen, 1)),
      },
      {
        id: 'move-up',
        group: 'Network',
        name: 'Move the part to the rail above',
        keys: ['Alt+PageUp'],
        isDisabled: !isPart,
        run: withSelection((chosen) => edits.moveAcross(chosen, -1)),
      },
      {
        id: 'move-down',
        group: 'Network',
        name: 'Move the part to the rail below',
        keys: ['Alt+PageDown'],
        isDisabled: !isPart,
        run: withSelection((chosen) => edits.moveAcross(chosen, 1)),
      },
      {
        id: 'bridge',
        group: 'Network',
        name: 'Bridge what is selected with another part',
        keys: ['J'],
        isDisabled: !selection,
        run: withSelection((chosen) => edits.addBridge(chosen)),
      },
      {
        id: 'copy-parts',
        group: 'Network',
        name: 'Export a copy of the part, its group or the filter',
        keys: ['Ctrl+C'],
        isDisabled: !selection || selection.kind === 'gap',
        run: withSelection((chosen) => edits.copy(chosen)),
      },
      {
        id: 'paste-parts',
        group: 'Network',
        name: 'Put the copy here',
        keys: ['Ctrl+V'],
        isDisabled: !selection,
        run: withSelection((chosen) => edits.paste(chosen)),
      },
      {
        id: 'step-up',
        group: 'Network',
        name: 'Next higher preferred value',
        keys: ['ArrowUp'],
        isDisabled: !isPart,
        run: withSelection((chosen) => edits.nudge(chosen, 1, false)),
      },
      {
        id: 'step-down',
        group: 'Network',
        name: 'Next lower preferred value',
        keys: ['ArrowDown'],
        isDisabled: !isPart,
        run: withSelection((chosen) => edits.nudge(chosen, -1, false)),
      },
      {
        id: 'add-way',
        group: 'Network',
        name: 'Add a way',
        keys: ['W'],
        run: () => edits.addWay(),
      },
      {
        id: 'bypass',
        group: 'Network',
        name: 'See it without the part (hold the key)',
        keys: ['B'],
        isDisabled: !isPart,
        run: () => selection?.kind === 'part' && desk.bypass(selection.id),
      },
    ];
  }, [desk, edits, selection, isPart]);
  useRegisterActions(actions);

  // The key is pressed through the action above; letting it go, or leaving the window, puts the
  // part back.
  useEffect(() => {
    const release = (event: KeyboardEvent) => event.key.toLowerCase() === 'b' && desk.bypass(null);
    const leave = () => desk.bypass(null);
    window.addEventListener('keyup', release);
    window.addEventListener('blur', leave);
    return () => {
      window.removeEventListener('keyup', release);
      window.removeEventListener('blur', leave);
      desk.bypass(null);
    };
  }, [desk]);
}
