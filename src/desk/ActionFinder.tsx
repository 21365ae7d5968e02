'use client';
import {
  Autocomplete,
  Dialog,
  Header,
  Input,
  Menu,
  MenuItem,
  MenuSection,
  Modal,
  ModalOverlay,
  SearchField,
  useFilter,
} from 'react-aria-components';
import styled from 'styled-components';
import { fieldLook } from '@/ui/fields/field';
import { MenuSheet } from '@/ui/sheets';
import { useActions, type Action } from './actions';
import { shownKey } from '@/desk/curves/shownKey';

interface ActionFinderProps {
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
}

/** Every action by name, with its key beside it: type a few letters, Enter does it. */
export function ActionFinder({ isOpen, onOpenChange }: ActionFinderProps) {
  const actions = useActions();
  const { contains } = useFilter({ sensitivity: 'base' });
  const groups = [...new Set(actions.map(({ group }) => group))];
  const run = (id: string) => {
    onOpenChange(false);
    // After the dialog has given the focus back, so that the action may move it.
    setTimeout(() => actions.find((action: Action) => action.id === id)?.run(), 0);
  };
  return (
    <Veil isOpen={isOpen} onOpenChange={onOpenChange} isDismissable>
      <Modal>
        <Sheet aria-label="Find an action">
          <Autocomplete filter={contains}>
            <SearchField aria-label="Name of an action" autoFocus>
              <Input placeholder="What do you want to do?" />
            </SearchField>
            <MenuSheet role="group" aria-label="Actions found" tabIndex={0}>
              <Menu
                onAction={(key) => run(String(key))}
                aria-label="Actions"
                renderEmptyState={() => <p>No action has this name.</p>}
              >
                {groups.map((group) => (
                  <MenuSection key={group} id={group}>
                    <Header>{group}</Header>
                    {actions
                      .filter((action) => action.group === group)
                      .map(({ id, name, keys, isDisabled }) => (
                        <MenuItem
                          key={id}
                          id={id}
                          textValue={name}
                          isDisabled={isDisabled ?? false}
                        >
                          <span>{name}</span>
                          <kbd>{keys?.[0] ? shownKey(keys[0]) : ''}</kbd>
                        </MenuItem>
                      ))}
                  </MenuSection>
                ))}
              </Menu>
            </MenuSheet>
          </Autocomplete>
        </Sheet>
      </Modal>
    </Veil>
  );
}

/** Dims the page behind a dialog. */
export const Veil = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  z-index: 10;
  background: rgb(0 0 0 / 35%);
  display: flex;
  justify-content: center;
  align-items: flex-start;
  padding-top: 12vh;
`;

const Sheet = styled(Dialog)`
  width: 30rem;
  background: ${({ theme }) => theme.colour.sheet};
  border-radius: ${({ theme }) => theme.radius};
  padding: 0.6rem;
  outline: none;
  input {
    ${fieldLook}
    width: 100%;
    margin-bottom: 0.5rem;
    padding: 0.5em 0.7em;
  }
  p {
    padding: 0.6rem;
  }
`;
