'use client';
import { useEffect, useId, useLayoutEffect } from 'react';
import { flushSync } from 'react-dom';
import { createStore } from 'zustand/vanilla';
import { useStore } from 'zustand';

/** Something that can be done now. Every one is in the list of actions, with its key beside it. */
export interface Action {
  readonly id: string;
  readonly name: string;
  /** Where it belongs, as a heading in the list. */
  readonly group: string;
  /** As a keyboard event spells it: "Ctrl+Z", "Shift+R", "Delete". */
  readonly keys?: readonly string[];
  readonly isDisabled?: boolean;
  run(): void;
}

const registry = createStore<Record<string, readonly Action[]>>(() => ({}));

/** Offers actions for as long as the component is on the page. */
export function useRegisterActions(actions: readonly Action[]): void {
  const owner = useId();
  // Its keys are there as soon as its words are on the screen.
  useLayoutEffect(() => {
    registry.setState({ [owner]: actions });
  }, [owner, actions]);
  useLayoutEffect(() => () => registry.setState({ [owner]: [] }), [owner]);
}

/** All actions on offer. */
export function useActions(): Action[] {
  return Object.values(useStore(registry)).flat();
}

/** The combination of an event, written as in {@link Action.keys}. */
function combination({ key, ctrlKey, metaKey, shiftKey, altKey }: KeyboardEvent): string {
  const name = key.length === 1 ? key.toUpperCase() : key;
  // Shift is part of "?" and its like already.
  const shift = shiftKey && (key.length > 1 || /[a-z]/i.test(key)) ? 'Shift+' : '';
  return `${ctrlKey || metaKey ? 'Ctrl+' : ''}${altKey ? 'Alt+' : ''}${shift}${name}`;
}

/** What letters are typed into; a tick or a switch is an input too, but takes only Space. */
const text =
  'textarea, [contenteditable="true"], input:not([type="checkbox"], [type="radio"], [type="range"], [type="file"])';
const typing = `${text}, [role="listbox"], [role="menu"], [role="dialog"]`;
const slider = '[role="slider"], input[type="radio"], input[type="range"]';

const isWithin = (target: EventTarget | null, selector: string): boolean =>
  target instanceof Element && target.closest(selector) !== null;

/** Whether a key stroke belongs to something that is being typed or chosen. */
export const typingIn = (target: EventTarget | null): boolean =>
  isWithin(target, typing) || isWithin(target, slider);

/** Text that is marked is what Ctrl+C copies. */
const isTextMarked = (): boolean => document.getSelection()?.type === 'Range';

/** A slider takes arrows and their like; letters and digits go on to its screen. */
const isLetterOrDigit = (pressed: string): boolean => /^(Alt\+)?[A-Z\d]$/.test(pressed);

/**
 * Runs actions by their keys, except while something is being typed or chosen.
 *
 * @param catchUp Brings the views up to date. A key can come before the last change is drawn: the
 *   actions on offer, and what they start from, are those after it.
 */
export function useActionKeys(catchUp: () => void): void {
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      const pressed = combination(event);
      if (event.defaultPrevented) return;
      const isTaken = isLetterOrDigit(pressed)
        ? isWithin(event.target, typing)
        : typingIn(event.target);
      if (isTaken && !pressed.startsWith('Ctrl+')) return;
      // In a text, Ctrl+Z belongs to what is being typed.
      if (isWithin(event.target, text) && /^Ctrl\+(Shift\+)?[ZYCVXA]$/.test(pressed)) return;
      if (pressed === 'Ctrl+C' && isTextMarked()) return;
      // Drawing at every repeat of a held key would fall behind.
      if (!event.repeat) flushSync(catchUp);
      const action = Object.values(registry.getState())
        .flat()
        .find(({ keys, isDisabled }) => !isDisabled && keys?.includes(pressed));
      if (!action) return;
      event.preventDefault();
      action.run();
    };
    // A button keeps Enter to itself, with Ctrl too.
    const onButton = (event: KeyboardEvent) => {
      const isOnButton = event.target instanceof Element && event.target.closest('button') !== null;
      if (!isOnButton || combination(event) !== 'Ctrl+Enter') return;
      onKeyDown(event);
      if (event.defaultPrevented) event.stopPropagation();
    };
    window.addEventListener('keydown', onKeyDown);
    window.addEventListener('keydown', onButton, { capture: true });
    return () => {
      window.removeEventListener('keydown', onKeyDown);
      window.removeEventListener('keydown', onButton, { capture: true });
    };
  }, [catchUp]);
}
