'use client';
import { useEffect, useMemo } from 'react';
import type { Action } from './actions';
import { typingIn } from './actions';
import { useDesk, useDeskState } from './DeskContext';

const flipKey = '`';

/** Pinning, flipping and keeping versions: possible on every stage. */
export function useLogActions(openVersion: () => void): Action[] {
  const desk = useDesk();
  const isPinned = useDeskState((state) => state.pinned !== null);
  const isFlipped = useDeskState((state) => state.isFlipped);
  useHeldFlip();
  return useMemo(
    () => [
      {
        id: 'keep-version',
        group: 'Log',
        name: 'Name this version, or write a note on it',
        keys: ['Ctrl+M'],
        run: () => {
          void desk.flush().then(openVersion);
        },
      },
      {
        id: 'pin',
        group: 'Log',
        name: 'Pin the present state to compare with',
        keys: ['Shift+P'],
        run: () => {
          void desk.flush().then(() => desk.pin(desk.revision()));
        },
      },
      {
        id: 'unpin',
        group: 'Log',
        name: 'Take the pin away',
        isDisabled: !isPinned,
        run: () => void desk.pin(null),
      },
      {
        id: 'flip',
        group: 'Log',
        name: isFlipped ? 'Show the present state again' : 'Show the pinned state',
        keys: [flipKey],
        isDisabled: !isPinned,
        run: () => desk.flip(!isFlipped),
      },
    ],
    [desk, openVersion, isPinned, isFlipped],
  );
}

/**
 * While the key is held the pinned state is shown; from the list of actions it stays until chosen
 * again.
 */
function useHeldFlip(): void {
  const desk = useDesk();
  useEffect(() => {
    let isHeld = false;
    const isFlip = (event: KeyboardEvent) =>
      (event.key === flipKey || event.code === 'Backquote') && !event.ctrlKey && !event.altKey;
    const down = (event: KeyboardEvent) => {
      if (!isFlip(event) || typingIn(event.target)) return;
      event.preventDefault();
      if (event.repeat) return;
      isHeld = true;
      desk.flip(true);
    };
    const up = (event: KeyboardEvent) => {
      if (!isFlip(event)) return;
      isHeld = false;
      desk.flip(false);
    };
    // In another window the key is let go of without this one being told.
    const leave = () => {
      if (isHeld) desk.flip(false);
      isHeld = false;
    };
    window.addEventListener('keydown', down, { capture: true });
    window.addEventListener('keyup', up);
    window.addEventListener('blur', leave);
    return () => {
      window.removeEventListener('keydown', down, { capture: true });
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', leave);
    };
  }, [desk]);
}
