'use client';
import styled from 'styled-components';
import { useStore } from 'zustand';
import { useDesk } from '@/desk/DeskContext';

const words = {
  saved: 'saved',
  saving: 'saving …',
  away: 'kept here',
  conflict: 'not saved',
  refused: 'not saved',
  partly: 'partly saved',
} as const;

/**
 * In the corner of the eye: whether the server has everything. Unlike the rest of the screen it
 * doesn't wait for the curves: not for a moment may it say that what was just changed is saved.
 */
export function SaveMark() {
  const kind = useStore(useDesk().store, ({ save, annotations }) =>
    // What is written about versions counts as much as the design itself.
    save.kind === 'saved' && annotations.pending.size > 0
      ? ([...annotations.troubles.values()].at(0)?.kind ?? 'saving')
      : save.kind,
  );
  return (
    <State role="status" data-kind={kind}>
      {words[kind]}
    </State>
  );
}

const State = styled.span`
  min-width: 4.5em;
  text-align: right;
  color: ${({ theme }) => theme.colour.quiet};
  &[data-kind='away'],
  &[data-kind='conflict'],
  &[data-kind='refused'],
  &[data-kind='partly'] {
    color: ${({ theme }) => theme.colour.alarm};
    font-weight: 600;
  }
`;
