'use client';
import { Button as AriaButton, type ButtonProps, type PressEvent } from 'react-aria-components';
import styled, { css } from 'styled-components';

/**
 * Whether an entry beside a button can't be read yet: the button would act on what was there
 * before. The entry gets the focus instead. What belongs together is marked with `data-entries`.
 */
function waitsForEntry({ target }: PressEvent): boolean {
  const entry = target
    .closest('[data-entries]')
    ?.querySelector<HTMLElement>('input[aria-invalid="true"], input[data-invalid]');
  entry?.focus();
  return entry !== null && entry !== undefined;
}

function Pressable({ onPress, ...props }: ButtonProps) {
  return (
    <AriaButton
      {...props}
      {...(onPress && { onPress: (event) => waitsForEntry(event) || onPress(event) })}
    />
  );
}

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
export const Button = styled(Pressable)`
  ${look}
`;

/** The one action that a screen is for. */
export const PrimaryButton = styled(Pressable)`
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
export const TextButton = styled(Pressable)`
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
