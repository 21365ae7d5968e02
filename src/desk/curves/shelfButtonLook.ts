import { css } from 'styled-components';

/** A small button in a lower corner of the curve shelf. */
export const shelfButtonLook = css`
  position: absolute;
  z-index: 1;
  bottom: 0.25rem;
  padding: 0.05rem 0.4rem;
  font: inherit;
  font-size: 0.6875rem;
  color: ${({ theme }) => theme.colour.quiet};
  background: ${({ theme }) => theme.colour.sheet};
  border: 1px solid ${({ theme }) => theme.colour.rule};
  border-radius: ${({ theme }) => theme.radius};
  cursor: pointer;
  /* While a chart is read, the line under it belongs to the reading. */
  section:has(figure[data-read='true']) > &:not(:focus-visible) {
    opacity: 0;
    pointer-events: none;
  }
`;
