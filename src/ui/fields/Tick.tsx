'use client';
import type { ReactNode } from 'react';
import { Checkbox } from 'react-aria-components';
import styled from 'styled-components';

interface TickProps {
  readonly isSelected: boolean;
  readonly isDisabled?: boolean;
  readonly onChange: (isSelected: boolean) => void;
  readonly children: ReactNode;
  readonly 'aria-label'?: string;
}

/** A box to tick, with its words. */
export function Tick({
  isSelected,
  isDisabled = false,
  onChange,
  children,
  'aria-label': label,
}: TickProps) {
  return (
    <Frame
      isSelected={isSelected}
      isDisabled={isDisabled}
      onChange={onChange}
      {...(label === undefined ? {} : { 'aria-label': label })}
    >
      <span aria-hidden data-box>
        {isSelected ? '✓' : ''}
      </span>{' '}
      {children}
    </Frame>
  );
}

const Frame = styled(Checkbox)`
  display: flex;
  gap: 0.5rem;
  font-size: 0.8125rem;
  cursor: pointer;
  > [data-box] {
    flex: none;
    display: grid;
    place-items: center;
    width: 1.1rem;
    height: 1.1rem;
    border: 1px solid ${({ theme }) => theme.colour.quiet};
    border-radius: 2px;
    background: ${({ theme }) => theme.colour.raised};
    color: ${({ theme }) => theme.colour.accent};
    font-weight: 700;
  }
  &[data-disabled] {
    color: ${({ theme }) => theme.colour.quiet};
    cursor: default;
  }
  &[data-focus-visible] > [data-box] {
    outline: 2px solid ${({ theme }) => theme.colour.accent};
    outline-offset: 2px;
  }
`;
