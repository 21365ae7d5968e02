import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { ProblemError } from '@/core/problem';
import { formatQuantity, parseWithin, type Dimension } from '@/core/units/quantity';
import { useAtEnd } from './useAtEnd';

interface DraftSetup {
  /** In the stored unit of the dimension; null when there is none. */
  readonly value: number | null;
  readonly dimension: Dimension;
  readonly min: number;
  readonly max: number;
  /** Called with a value that was read and is within the limits. */
  readonly onCommit: (value: number) => void;
  /** Called when the field was emptied; without it an empty field is an error. */
  readonly onClear?: (() => void) | undefined;
  readonly step?: ((value: number, steps: number, fine: boolean) => number) | undefined;
}

/**
 * What is being typed into a field for a quantity: Enter or leaving the field, its view or the page
 * takes it over, Escape restores, arrow keys step at once, with Shift by ten, with Alt finely.
 * What can't be read stays with its error until it is mended or restored: nothing goes back to the
 * former value in silence.
 */
export function useQuantityDraft({
  value,
  dimension,
  min,
  max,
  onCommit,
  onClear,
  step,
}: DraftSetup) {
  const [draft, setDraft] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  // Curves are drawn before fields: keys that come faster go on from what the last one made.
  const ahead = useRef<number | null>(null);
  useEffect(() => {
    ahead.current = null;
  }, [value]);

  const restore = () => {
    setDraft(null);
    setError(null);
  };
  const take = (): boolean => {
    if (draft === null) return true;
    if (draft.trim() === '' && onClear) {
      restore();
      if (value !== null) onClear();
      return true;
    }
    try {
      const parsed = parseWithin(draft, dimension, min, max);
      restore();
      ahead.current = parsed;
      if (parsed !== value) onCommit(parsed);
      return true;
    } catch (problem) {
      if (!(problem instanceof ProblemError)) throw problem;
      setError(problem.problem.mend);
      return false;
    }
  };
  useAtEnd(take);
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Enter') {
      if (take()) (event.target as HTMLInputElement).select();
    } else if (event.key === 'Escape' && draft !== null) {
      event.stopPropagation();
      restore();
    } else if (step && value !== null && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      event.preventDefault();
      restore();
      const steps = (event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 10 : 1);
      const next = step(ahead.current ?? value, steps, event.altKey);
      ahead.current = Math.min(max, Math.max(min, next));
      onCommit(ahead.current);
    }
  };
  return {
    text: draft ?? (value === null ? '' : formatQuantity(value, dimension)),
    error,
    setDraft: (text: string) => {
      setDraft(text);
      setError(null);
    },
    onKeyDown,
    onBlur: () => {
      ahead.current = null;
      take();
    },
  };
}
