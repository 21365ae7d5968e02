import { Tabs } from 'react-aria-components';
import styled from 'styled-components';
import { tabsLook } from './sheets';

/** What a stage says while there is nothing to work on, and how to begin. */
export const EmptyStage = styled.div`
  display: grid;
  align-content: center;
  justify-items: center;
  gap: 0.9rem;
  height: 100%;
  padding: 2rem;
  max-width: 40rem;
  margin: 0 auto;
`;

/** A drawing to scale under its bar, with what belongs to it below. */
export const DrawingBoard = styled.section`
  display: grid;
  grid-template-rows: auto minmax(240px, 1fr) auto auto;
  background: ${({ theme }) => theme.colour.sheet};
  overflow: auto;
`;

/** The line over a drawing. */
export const StageBar = styled.div`
  display: flex;
  align-items: center;
  gap: 0.7rem;
  padding: 0.35rem 1rem;
  border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
`;

/** Pushes what follows to the end of a bar. */
export const Spacer = styled.span`
  flex: 1;
`;

/** What the pane beside a drawing says of one thing, some of it folded. */
export const PaneSection = styled.section`
  display: grid;
  gap: 0.6rem;
  summary {
    cursor: pointer;
    font-weight: 600;
    font-size: 0.8125rem;
  }
  details > * + * {
    margin-top: 0.4rem;
  }
  ul {
    padding-left: 1.1rem;
    font-size: 0.8125rem;
  }
`;

/** The pane at the right of a stage. */
export const SideTabs = styled(Tabs)`
  ${tabsLook}
  border-left: 1px solid ${({ theme }) => theme.colour.rule};
`;
