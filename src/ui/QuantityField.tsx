'use client';
import { useId, useState, type KeyboardEvent } from 'react';
import { Input, Label, TextField } from 'react-aria-components';
import styled from 'styled-components';
import { ProblemError } from '@/core/problem';
import { formatQuantity, parseQuantity, type Dimension } from '@/core/units/quantity';
import { FieldError, fieldLook, labelLook } from './field';

interface QuantityFieldProps {
  readonly label: string;
  /** In the stored unit of the dimension. */
  readonly value: number;
  readonly dimension: Dimension;
  /** Called with a value that was read and is within the limits. */
  readonly onCommit: (value: number) => void;
  readonly min?: number;
  readonly max?: number;
  /** What an arrow key makes of the value; `fine` with Alt, ten steps with Shift. Without it arrows do nothing. */
  readonly step?: (value: number, steps: number, fine: boolean) => number;
  readonly isLarge?: boolean;
}

/**
 * A value with its unit. Type as in the trade (4u7, 0,33 mH); Enter or leaving the field takes it over, Escape restores,
 * arrow keys step at once.
 */
export function QuantityField({
  label,
  value,
  dimension,
  onCommit,
  min = -Infinity,
  max = Infinity,
  step,
  isLarge,
}: QuantityFieldProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  const errorId = useId();

  const restore = () => {
    setDraft(null);
    setError(null);
  };
  const take = (): boolean => {
    if (draft === null) return true;
    try {
      const parsed = parseQuantity(draft, dimension);
      if (parsed < min || parsed > max) {
        setError(
          `Between ${formatQuantity(min, dimension)} and ${formatQuantity(max, dimension)}.`,
        );
        return false;
      }
      restore();
      if (parsed !== value) onCommit(parsed);
      return true;
    } catch (problem) {
      if (!(problem instanceof ProblemError)) throw problem;
      setError(problem.problem.mend);
      return false;
    }
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Enter') {
      if (take()) (event.target as HTMLInputElement).select();
    } else if (event.key === 'Escape' && draft !== null) {
      event.stopPropagation();
      restore();
    } else if (step && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      event.preventDefault();
      restore();
      const steps = (event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 10 : 1);
      onCommit(Math.min(max, Math.max(min, step(value, steps, event.altKey))));
    }
  };
  return (
    <Frame
      value={draft ?? formatQuantity(value, dimension)}
      onChange={setDraft}
      onBlur={() => void (take() || restore())}
      isInvalid={error !== null}
    >
      <Label>{label}</Label>
      <Input
        onKeyDown={onKeyDown}
        onFocus={(event) => event.currentTarget.select()}
        data-large={isLarge ?? undefined}
        aria-describedby={error === null ? undefined : errorId}
      />
      {error !== null && (
        <FieldError id={errorId} role="alert">
          {error}
        </FieldError>
      )}
    </Frame>
  );
}

const Frame = styled(TextField)`
  display: grid;
  gap: 0.15rem;
  label {
    ${labelLook}
  }
  input {
    ${fieldLook}
    font-family: ${({ theme }) => theme.font.figures};
    width: 100%;
    &[data-large] {
      font-size: ${({ theme }) => theme.size.large};
      font-weight: 600;
    }
  }
`;
