import styled from 'styled-components';

/** Buttons beside each other, wrapped where they don't fit. */
export const Row = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
`;
