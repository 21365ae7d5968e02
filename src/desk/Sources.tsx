'use client';
import { Button, Dialog, DialogTrigger, Popover } from 'react-aria-components';
import styled from 'styled-components';
import { provenance } from '@/core/design/provenance';
import { MenuSheet } from '@/ui/sheets';
import { useDeskState } from './DeskContext';
import { shelfButtonLook } from './shelfButtonLook';

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
  ${shelfButtonLook}
  left: 0.5rem;
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
