'use client';
import { useId } from 'react';
import { Input, TextField } from 'react-aria-components';
import styled, { css } from 'styled-components';
import type { Dimension } from '@/core/units/quantity';
import { Choice, type Option } from './Choice';
import { FieldError } from './field';
import { useQuantityDraft } from './useQuantityDraft';
import { useTextDraft } from './useTextDraft';

/** A blank in a sentence: what is written into it is underlined in the text. */
const blankLook = css`
  font: inherit;
  font-weight: 600;
  color: ${({ theme }) => theme.colour.accent};
  background: ${({ theme }) => theme.colour.accentWash};
  border: 0;
  border-bottom: 1.5px solid ${({ theme }) => theme.colour.accent};
  border-radius: 2px 2px 0 0;
  padding: 0.05em 0.35em;
  line-height: 1.4;
  width: 4.5em;
  @supports (field-sizing: content) {
    width: auto;
    min-width: 2.2em;
    field-sizing: content;
  }
  &::placeholder {
    color: ${({ theme }) => theme.colour.quiet};
    font-weight: 400;
  }
`;

interface QuantityBlankProps {
  readonly label: string;
  readonly value: number | null;
  readonly dimension: Dimension;
  readonly min: number;
  readonly max: number;
  /** One step of the arrow keys, in the stored unit; with Alt a tenth of it. */
  readonly stepBy: number;
  readonly onChange: (value: number | null) => void;
  /** Shown while nothing is written: what is assumed, or what is asked for. */
  readonly placeholder?: string;
}

/** A quantity in a sentence. Emptied, it is not answered. */
export function QuantityBlank({
  label,
  value,
  dimension,
  min,
  max,
  stepBy,
  onChange,
  placeholder = '…',
}: QuantityBlankProps) {
  const { text, error, setDraft, onKeyDown, onBlur } = useQuantityDraft({
    value,
    dimension,
    min,
    max,
    onCommit: onChange,
    onClear: () => onChange(null),
    step: (from, steps, fine) =>
      Number((from + steps * (fine ? stepBy / 10 : stepBy)).toPrecision(9)),
  });
  const errorId = useId();
  return (
    <Field
      aria-label={label}
      value={text}
      onChange={setDraft}
      onBlur={onBlur}
      isInvalid={error !== null}
    >
      <Input
        placeholder={placeholder}
        onKeyDown={onKeyDown}
        onFocus={(event) => event.currentTarget.select()}
        aria-describedby={error === null ? undefined : errorId}
      />
      {error !== null && (
        <FieldError id={errorId} role="alert">
          {' '}
          {error}
        </FieldError>
      )}
    </Field>
  );
}

const Field = styled(TextField)`
  display: inline;
  input {
    ${blankLook}
    &[data-invalid] {
      border-color: ${({ theme }) => theme.colour.alarm};
    }
  }
`;

const unsaid = 'unsaid';

interface ChoiceBlankProps<T extends string> {
  readonly label: string;
  readonly options: readonly Option<T>[];
  readonly value: T | null;
  readonly onChange: (value: T | null) => void;
  readonly placeholder?: string;
  /** Set where there is always an answer; otherwise it can be taken back. */
  readonly isAlwaysSaid?: boolean;
}

/** One of a few in a sentence, or not said. */
export function ChoiceBlank<T extends string>({
  label,
  options,
  value,
  onChange,
  placeholder = '…',
  isAlwaysSaid = false,
}: ChoiceBlankProps<T>) {
  return (
    <ChoiceFrame>
      <Choice<T | typeof unsaid>
        label={label}
        hideLabel
        options={
          value === null || isAlwaysSaid ? options : [...options, { id: unsaid, text: 'not said' }]
        }
        value={value}
        placeholder={placeholder}
        onChange={(chosen) => onChange(chosen === unsaid ? null : chosen)}
      />
    </ChoiceFrame>
  );
}

const ChoiceFrame = styled.span`
  display: inline-block;
  vertical-align: baseline;
  button {
    ${blankLook}
    width: auto;
    max-width: 22em;
  }
`;

interface TextBlankProps {
  readonly label: string;
  readonly value: string;
  /** Called with what was written when the field is left or Enter pressed; never empty. */
  readonly onChange: (value: string) => void;
}

/** Words in a sentence. */
export function TextBlank({ label, value, onChange }: TextBlankProps) {
  const draft = useTextDraft({ value, longest: 120, onCommit: onChange });
  return (
    <Field aria-label={label} {...draft}>
      <Input />
    </Field>
  );
}
