import styled from 'styled-components';
import { Button } from '@/ui/Button';

/** A button in a line of words. */
export const SmallButton = styled(Button)`
  padding: 0.1em 0.4em;
  font-size: ${({ theme }) => theme.size.small};
`;
