import styled, { css } from 'styled-components';

/** Surface of a list or menu that lies over the page. */
export const MenuSheet = styled.div`
  background: ${({ theme }) => theme.colour.raised};
  color: ${({ theme }) => theme.colour.ink};
  border: 1px solid ${({ theme }) => theme.colour.quiet};
  border-radius: ${({ theme }) => theme.radius};
  box-shadow: 0 6px 20px rgb(0 0 0 / 18%);
  padding: 4px;
  max-height: 320px;
  overflow: auto;
  font-size: ${({ theme }) => theme.size.body};
  [role='option'],
  [role='menuitem'] {
    display: flex;
    justify-content: space-between;
    align-items: center;
    gap: 1.5em;
    padding: 0.35em 0.6em;
    border-radius: 2px;
    cursor: pointer;
    outline: none;
    color: inherit;
    text-decoration: none;
    &[data-focused] {
      background: ${({ theme }) => theme.colour.accentWash};
    }
    &[data-disabled] {
      color: ${({ theme }) => theme.colour.quiet};
      cursor: default;
    }
  }
  [role='group'] > header,
  section > header {
    padding: 0.4em 0.6em 0.2em;
    font-size: ${({ theme }) => theme.size.small};
    color: ${({ theme }) => theme.colour.quiet};
  }
`;

/** A paper card that lies on the table. */
export const Card = styled.section`
  background: ${({ theme }) => theme.colour.sheet};
  border: 1px solid ${({ theme }) => theme.colour.rule};
  border-radius: ${({ theme }) => theme.radius};
  padding: 0.8rem 0.9rem;
`;

/** Secondary words. */
export const Quiet = styled.span`
  color: ${({ theme }) => theme.colour.quiet};
  font-size: ${({ theme }) => theme.size.small};
`;

/** A finding: what is wrong or doubtful, with its next step. */
export const Note = styled.div<{ readonly $kind: 'alarm' | 'doubt' | 'plain' }>`
  border-left: 3px solid
    ${({ theme, $kind }) => ($kind === 'alarm' ? theme.colour.alarm : $kind === 'doubt' ? theme.colour.doubt : theme.colour.accent)};
  background: ${({ theme, $kind }) => ($kind === 'alarm' ? theme.colour.alarmWash : theme.colour.sheet)};
  padding: 0.45rem 0.7rem;
  font-size: 0.8125rem;
`;

/** A quiet table: rules between the rows, small words. */
export const tableLook = css`
  border-collapse: collapse;
  width: 100%;
  font-size: ${({ theme }) => theme.size.small};
  th,
  td {
    text-align: left;
    font-weight: 400;
    padding: 0.15rem 0.6rem 0.15rem 0;
    border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
  }
  thead th {
    color: ${({ theme }) => theme.colour.quiet};
  }
`;

/** Tabs over one panel that scrolls; a line between them, if any, keeps its height. */
export const tabsLook = css`
  display: grid;
  grid-template-rows: auto auto 1fr;
  min-width: 0;
  min-height: 0;
  [role='tablist'] {
    display: flex;
    border-bottom: 1px solid ${({ theme }) => theme.colour.rule};
    padding: 0 0.9rem;
  }
  [role='tab'] {
    padding: 0.6rem 0.5rem 0.5rem;
    white-space: nowrap;
    cursor: pointer;
    font-size: 0.8125rem;
    color: ${({ theme }) => theme.colour.quiet};
    border-bottom: 3px solid transparent;
    &[data-selected] {
      color: ${({ theme }) => theme.colour.ink};
      font-weight: 600;
      border-color: ${({ theme }) => theme.colour.accent};
    }
  }
  [role='tabpanel'] {
    grid-row: 3;
    grid-auto-rows: max-content;
    padding: 0.8rem 0.9rem;
    overflow: auto;
    display: grid;
    align-content: start;
    gap: 0.7rem;
    min-width: 0;
    > * {
      min-width: 0;
    }
  }
`;

/**
 * A paragraph with blanks in it. Not a `p`: that may hold text only, and a browser takes apart one
 * that holds a list.
 */
export const Sentence = styled.div.attrs({ role: 'paragraph' })``;

/** Buttons beside each other that answer one question. */
export const Choices = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  margin-top: 0.4rem;
`;
