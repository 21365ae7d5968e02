'use client';
import { Input, TextField } from 'react-aria-components';
import styled from 'styled-components';
import { useTextDraft } from './useTextDraft';

/**
 * A name that is edited in place: looks like text until it is touched. Empty names are not
 * taken.
 */
export function NameField({
  label,
  value,
  onCommit,
}: {
  readonly label: string;
  readonly value: string;
  readonly onCommit: (name: string) => void;
}) {
  const draft = useTextDraft({ value, longest: 80, onCommit });
  return (
    <Plain aria-label={label} maxLength={120} {...draft}>
      <Input />
    </Plain>
  );
}

const Plain = styled(TextField)`
  input {
    font: inherit;
    font-weight: inherit;
    color: inherit;
    background: transparent;
    border: 1px solid transparent;
    border-radius: ${({ theme }) => theme.radius};
    padding: 0.1em 0.25em;
    margin-left: -0.25em;
    width: 16em;
    @supports (field-sizing: content) {
      width: auto;
      field-sizing: content;
    }
    max-width: min(24rem, 30vw);
    text-overflow: ellipsis;
    &:hover {
      border-color: ${({ theme }) => theme.colour.rule};
    }
    &:focus {
      background: ${({ theme }) => theme.colour.raised};
      border-color: ${({ theme }) => theme.colour.accent};
    }
  }
`;
