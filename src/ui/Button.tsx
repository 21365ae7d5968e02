'use client';
import { Button as AriaButton } from 'react-aria-components';
import styled, { css } from 'styled-components';

const look = css`
  display: inline-flex;
  align-items: center;
  gap: 0.5em;
  border: 1px solid ${({ theme }) => theme.colour.rule};
  border-radius: ${({ theme }) => theme.radius};
  background: ${({ theme }) => theme.colour.raised};
  color: ${({ theme }) => theme.colour.ink};
  font: inherit;
  line-height: 1.3;
  padding: 0.32em 0.7em;
  cursor: pointer;
  text-decoration: none;
  white-space: nowrap;
  &[data-hovered] {
    border-color: ${({ theme }) => theme.colour.quiet};
  }
  &[data-pressed] {
    background: ${({ theme }) => theme.colour.accentWash};
  }
  &[data-disabled] {
    color: ${({ theme }) => theme.colour.quiet};
    background: transparent;
    cursor: default;
  }
`;

/** An ordinary button. */
export const Button = styled(AriaButton)`
  ${look}
`;

/** The one action that a screen is for. */
export const PrimaryButton = styled(AriaButton)`
  ${look}
  background: ${({ theme }) => theme.colour.accent};
  border-color: ${({ theme }) => theme.colour.accent};
  color: ${({ theme }) => theme.colour.onAccent};
  font-weight: 600;
  kbd {
    color: inherit;
  }
  &[data-pressed] {
    background: ${({ theme }) => theme.colour.ink};
    color: ${({ theme }) => theme.colour.paper};
  }
`;

/** A button that reads as part of a sentence. */
export const TextButton = styled(AriaButton)`
  border: 0;
  background: none;
  padding: 0.1em 0.15em;
  font: inherit;
  color: ${({ theme }) => theme.colour.accent};
  cursor: pointer;
  text-decoration: underline;
  text-underline-offset: 2px;
  &[data-disabled] {
    color: ${({ theme }) => theme.colour.quiet};
    text-decoration: none;
    cursor: default;
  }
`;
