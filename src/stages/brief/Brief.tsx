'use client';
import styled from 'styled-components';
import { Answers } from './Answers';
import { Meaning } from './Meaning';
import { PromiseTable } from './PromiseTable';
import { Sheets } from './Sheets';
import { TargetCard } from './TargetCard';

/**
 * What the speaker must do: sentences with answers in place, and beside them what the answers mean.
 */
export function Brief() {
  return (
    <Layout>
      <section aria-label="Answers">
        <Answers />
        <Sheets />
        <TargetCard />
        <PromiseTable />
      </section>
      <Meaning />
    </Layout>
  );
}

const Layout = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(20rem, 25rem);
  height: 100%;
  > * {
    min-height: 0;
    overflow-y: auto;
    position: relative;
    padding: 1rem 1.6rem 2rem;
  }
  > section {
    background: ${({ theme }) => theme.colour.sheet};
  }
`;
