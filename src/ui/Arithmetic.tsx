'use client';
import styled from 'styled-components';

/** How figures were found, for whoever asks: one line per step. */
export function Arithmetic({ lines }: { readonly lines: readonly string[] }) {
  if (lines.length === 0) return null;
  return (
    <Steps>
      <summary>arithmetic</summary>
      {lines.map((line) => (
        <p key={line}>{line}</p>
      ))}
    </Steps>
  );
}

const Steps = styled.details`
  color: ${({ theme }) => theme.colour.quiet};
  font-size: ${({ theme }) => theme.size.small};
  summary {
    cursor: pointer;
  }
`;
