'use client';
import type { ReactNode } from 'react';
import styled from 'styled-components';

/** A group of sentences of the brief under its name. */
export function Question({
  title,
  children,
}: {
  readonly title: string;
  readonly children: ReactNode;
}) {
  return (
    <Row>
      <h3>{title}</h3>
      <div>{children}</div>
    </Row>
  );
}

const Row = styled.section`
  display: grid;
  grid-template-columns: 8.5rem minmax(0, 34rem);
  gap: 0.4rem 1.2rem;
  padding: 0.7rem 0;
  border-top: 1px solid ${({ theme }) => theme.colour.grid};
  h3 {
    font-size: 0.8125rem;
    padding-top: 0.25rem;
  }
  p,
  [role='paragraph'] {
    line-height: 1.95;
    font-size: 0.9375rem;
  }
`;
