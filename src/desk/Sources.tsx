'use client';
import { Button, Dialog, DialogTrigger, Popover } from 'react-aria-components';
import styled from 'styled-components';
import { provenance } from '@/core/design/provenance';
import { MenuSheet } from '@/ui/sheets';
import { useDeskState } from './DeskContext';

/** Where the curves on the shelf come from: files, dates, steps. */
export function Sources() {
  return (
    <DialogTrigger>
      <Small>where these come from</Small>
      <Popover placement="top start">
        <MenuSheet>
          <Dialog aria-label="Where the curves come from">
            <List />
          </Dialog>
        </MenuSheet>
      </Popover>
    </DialogTrigger>
  );
}

function List() {
  const design = useDeskState((state) => state.design);
  return (
    <Told>
      {provenance(design).map(({ wayId, wayName, sources }) => (
        <div key={wayId}>
          <dt>{wayName}</dt>
          {sources.map((source) => (
            <dd key={source}>{source}</dd>
          ))}
        </div>
      ))}
    </Told>
  );
}

const Small = styled(Button)`
  position: absolute;
  z-index: 1;
  left: 0.5rem;
  bottom: 0.25rem;
  padding: 0.05rem 0.4rem;
  font: inherit;
  font-size: 0.6875rem;
  color: ${({ theme }) => theme.colour.quiet};
  background: ${({ theme }) => theme.colour.sheet};
  border: 1px solid ${({ theme }) => theme.colour.rule};
  border-radius: ${({ theme }) => theme.radius};
  cursor: pointer;
`;

const Told = styled.dl`
  display: grid;
  gap: 0.5rem;
  max-width: 36rem;
  padding: 0.4rem 0.6rem;
  margin: 0;
  dt {
    font-weight: 600;
  }
  dd {
    margin: 0;
    font-size: ${({ theme }) => theme.size.small};
    overflow-wrap: anywhere;
  }
`;
