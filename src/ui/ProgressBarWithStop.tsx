'use client';
import { ProgressBar } from 'react-aria-components';
import styled from 'styled-components';
import { TextButton } from './Button';

interface ProgressBarWithStopProps {
  /** What is going on, for screen readers. */
  readonly name: string;
  readonly percent: number;
  readonly onStop: () => void;
}

/** How far something is, and the way to stop it. */
export function ProgressBarWithStop({ name, percent, onStop }: ProgressBarWithStopProps) {
  return (
    <Bar aria-label={name} value={percent}>
      <div style={{ width: `${percent}%` }} />
      <TextButton onPress={onStop}>Stop</TextButton>
    </Bar>
  );
}

const Bar = styled(ProgressBar)`
  display: grid;
  grid-template-columns: 1fr auto;
  align-items: center;
  gap: 0.6rem;
  > div {
    height: 6px;
    background: ${({ theme }) => theme.colour.accent};
    border-radius: 3px;
  }
`;
