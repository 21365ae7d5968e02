'use client';
import { useId } from 'react';
import { Input, Label, TextField } from 'react-aria-components';
import styled from 'styled-components';
import type { Dimension } from '@/core/units/quantity';
import { FieldError, fieldLook, labelLook } from './field';
import { useQuantityDraft } from './useQuantityDraft';

interface QuantityFieldProps {
  readonly label: string;
  /** In the stored unit of the dimension. */
  readonly value: number;
  readonly dimension: Dimension;
  /** Called with a value that was read and is within the limits. */
  readonly onCommit: (value: number) => void;
  readonly min?: number;
  readonly max?: number;
  /**
   * What an arrow key makes of the value; `fine` with Alt, ten steps with Shift. Without it arrows
   * do nothing.
   */
  readonly step?: (value: number, steps: number, fine: boolean) => number;
  readonly isLarge?: boolean;
}

/**
 * A value with its unit. Type as in the trade (4u7, 0,33 mH); Enter or leaving the field takes it
 * over, Escape restores, arrow keys step at once.
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
  const { text, error, setDraft, onKeyDown, onBlur } = useQuantityDraft({
    value,
    dimension,
    min,
    max,
    onCommit,
    step,
  });
  const errorId = useId();
  return (
    <Frame value={text} onChange={setDraft} onBlur={onBlur} isInvalid={error !== null}>
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
