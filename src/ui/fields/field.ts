import styled, { css } from 'styled-components';

/** Shared look of everything that is typed or chosen in place. */
export const fieldLook = css`
  font: inherit;
  color: ${({ theme }) => theme.colour.ink};
  background: ${({ theme }) => theme.colour.raised};
  border: 1px solid ${({ theme }) => theme.colour.rule};
  border-radius: ${({ theme }) => theme.radius};
  padding: 0.3em 0.5em;
  min-width: 0;
  &[data-invalid] {
    border-color: ${({ theme }) => theme.colour.alarm};
  }
`;

/** Name of a field, above or before it. */
export const labelLook = css`
  color: ${({ theme }) => theme.colour.quiet};
  font-size: ${({ theme }) => theme.size.small};
`;

/** What is wrong with what was typed. */
export const FieldError = styled.span`
  color: ${({ theme }) => theme.colour.alarm};
  font-size: ${({ theme }) => theme.size.small};
`;
