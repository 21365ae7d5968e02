'use client';
import styled from 'styled-components';
import { Button } from '@/ui/Button';

interface FirstVisitProps {
  readonly isBusy: boolean;
  readonly onDemo: () => void;
  readonly onLesson: () => void;
}

/** What the program does, for who has no project of their own yet. */
export function FirstVisit({ isBusy, onDemo, onLesson }: FirstVisitProps) {
  return (
    <Steps aria-label="How it works">
      <li>
        <h2>Say and measure</h2>
        <p>
          Brief: what the speaker must do, as promises with limits. Bench: import responses and
          impedances of your drivers, or record them here.
        </p>
        <Button isDisabled={isBusy} onPress={onLesson}>
          Try it on the practice rig
        </Button>
      </li>
      <li>
        <h2>Build the network</h2>
        <p>
          Put parts on the rails. Response, impedance and promises follow each value as you change
          it; a fit or a search proposes values and whole networks.
        </p>
        <Button isDisabled={isBusy} onPress={onDemo}>
          Look round in the demo
        </Button>
      </li>
      <li>
        <h2>Compare and export</h2>
        <p>
          Every version is kept in the Log with its curves. Pin one, compare, go back; export
          curves, netlist and drawing.
        </p>
      </li>
    </Steps>
  );
}

const Steps = styled.ol`
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 1.6rem;
  padding: 1rem 0;
  counter-reset: step;
  list-style: none;
  li {
    counter-increment: step;
    display: grid;
    grid-template-rows: auto 1fr auto;
    justify-items: start;
    gap: 0.5rem;
  }
  h2 {
    font-size: 1rem;
    &::before {
      content: counter(step) ' ';
      color: ${({ theme }) => theme.colour.accent};
    }
  }
  p {
    color: ${({ theme }) => theme.colour.quiet};
  }
`;
