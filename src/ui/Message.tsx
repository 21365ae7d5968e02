'use client';
import type { ReactNode } from 'react';
import styled from 'styled-components';
import { Mark } from './Mark';

/** A page that has only one thing to say. */
export function Message({
  title,
  children,
}: {
  readonly title: string;
  readonly children: ReactNode;
}) {
  return (
    <Page>
      <Mark size={34} />
      <h1>{title}</h1>
      {children}
    </Page>
  );
}

const Page = styled.main`
  display: grid;
  justify-items: start;
  gap: 0.8rem;
  max-width: 32rem;
  margin: 18vh auto 0;
  padding: 0 1.5rem;
  h1 {
    font-size: 1.375rem;
  }
`;
