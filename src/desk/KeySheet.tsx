'use client';
import { Dialog, Heading, Modal } from 'react-aria-components';
import styled from 'styled-components';
import { Button } from '@/ui/Button';
import { Veil } from './ActionFinder';
import { useActions } from './actions';
import { shownKey } from '@/desk/curves/shownKey';

/** Keys that belong to a place rather than to an action. */
const placeKeys: readonly (readonly [string, string, string])[] = [
  ['In a value', '↑ ↓', 'step along the preferred series (Shift: ten steps, Alt: fine)'],
  ['In a value', 'Esc', 'restore'],
  ['On a chart', '← →', 'move the cursor (Shift: a third of an octave)'],
  ['On a chart', '+ −', 'zoom both scales'],
  ['On a chart', 'Enter', 'pin the cursor'],
];

/** All keys on one sheet. */
export function KeySheet({
  isOpen,
  onOpenChange,
}: {
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
}) {
  const rows = useActions()
    .filter(({ keys }) => keys !== undefined && keys.length > 0)
    .map(({ group, name, keys }) => [group, keys!.map(shownKey).join(' or '), name] as const);
  const all = [...rows, ...placeKeys];
  const groups = [...new Set(all.map(([group]) => group))];
  return (
    <Veil isOpen={isOpen} onOpenChange={onOpenChange} isDismissable>
      <Modal>
        <Sheet>
          {({ close }) => (
            <>
              <Heading slot="title">Keys</Heading>
              <div>
                {groups.map((group) => (
                  <section key={group}>
                    <h3>{group}</h3>
                    <dl>
                      {all
                        .filter(([of]) => of === group)
                        .map(([, keys, name]) => (
                          <div key={keys + name}>
                            <dt>
                              <kbd>{keys}</kbd>
                            </dt>
                            <dd>{name}</dd>
                          </div>
                        ))}
                    </dl>
                  </section>
                ))}
              </div>
              <Button onPress={close} autoFocus>
                Close
              </Button>
            </>
          )}
        </Sheet>
      </Modal>
    </Veil>
  );
}

const Sheet = styled(Dialog)`
  width: 52rem;
  max-height: 76vh;
  overflow: auto;
  background: ${({ theme }) => theme.colour.sheet};
  border-radius: ${({ theme }) => theme.radius};
  padding: 1.2rem 1.4rem;
  outline: none;
  > div {
    columns: 2;
    margin: 0.8rem 0;
  }
  section {
    break-inside: avoid;
    margin-bottom: 0.9rem;
  }
  dl > div {
    display: grid;
    grid-template-columns: 9.5rem 1fr;
    gap: 0.5rem;
    padding: 0.12rem 0;
  }
`;
