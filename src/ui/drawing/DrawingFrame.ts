import styled from 'styled-components';

/** Around a drawing that fills its pane; words keep clear of the lines behind them. */
export const DrawingFrame = styled.div`
  position: relative;
  min-width: 0;
  min-height: 0;
  overflow: hidden;
  svg {
    position: absolute;
    inset: 0;
    font-size: 11.5px;
    user-select: none;
  }
  text:not([fill]) {
    fill: currentColor;
  }
  text {
    paint-order: stroke;
    stroke: ${({ theme }) => theme.colour.sheet};
    stroke-width: 3px;
    stroke-linejoin: round;
  }
`;
