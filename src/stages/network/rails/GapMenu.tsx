'use client';
import type { WayId } from '@/core/fields';
import { partKinds, kindsOfParts } from '@/core/document/partKinds';
import { memo } from 'react';
import {
  Button,
  Header,
  Menu,
  MenuItem,
  MenuSection,
  MenuTrigger,
  Popover,
} from 'react-aria-components';
import styled from 'styled-components';
import type { PartKind, Place } from '@/core/document/schema';
import { useDesk } from '@/desk/DeskContext';
import { MenuSheet } from '@/ui/sheets';

import { useNetworkEdits } from '@/stages/network/edits/useNetworkEdits';

const places: readonly (readonly [Place, string])[] = [
  ['series', 'On the line, in series'],
  ['shunt', 'To the return, in shunt'],
];

interface GapMenuProps {
  readonly wayId: WayId;
  readonly wayName: string;
  readonly index: number;
  /** Name of the part or driver that follows. */
  readonly before: string;
  readonly left: number;
  readonly top: number;
}

/**
 * A place on a rail where a part can be added. Plain props, so that it does not change while values
 * move.
 */
export const GapMenu = memo(function GapMenu({
  wayId,
  wayName,
  index,
  before,
  left,
  top,
}: GapMenuProps) {
  const desk = useDesk();
  const edits = useNetworkEdits();
  return (
    <MenuTrigger onOpenChange={(isOpen) => isOpen && desk.select({ kind: 'gap', wayId, index })}>
      <Plus aria-label={`Add a part before ${before}, ${wayName}`} style={{ left, top }}>
        +
      </Plus>
      <Popover>
        <MenuSheet>
          <Menu
            aria-label="Part to add"
            onAction={(key) => {
              const [place, kind] = String(key).split(' ') as [Place, PartKind];
              edits.add(wayId, index, kind, place);
            }}
          >
            {places.map(([place, heading]) => (
              <MenuSection key={place}>
                <Header>{heading}</Header>
                {kindsOfParts.map((kind) => (
                  <MenuItem key={kind} id={`${place} ${kind}`} textValue={partKinds[kind].word}>
                    {partKinds[kind].word}
                  </MenuItem>
                ))}
              </MenuSection>
            ))}
          </Menu>
        </MenuSheet>
      </Popover>
    </MenuTrigger>
  );
});

const Plus = styled(Button)`
  position: absolute;
  width: 18px;
  height: 18px;
  margin: -9px 0 0 -9px;
  padding: 0;
  border-radius: 50%;
  border: 1px dashed ${({ theme }) => theme.colour.accent};
  background: ${({ theme }) => theme.colour.sheet};
  color: ${({ theme }) => theme.colour.accent};
  font: inherit;
  font-size: 12px;
  line-height: 1;
  cursor: pointer;
  opacity: 0.35;
  &[data-hovered],
  &[data-focus-visible],
  &[aria-expanded='true'] {
    opacity: 1;
    border-style: solid;
  }
`;
