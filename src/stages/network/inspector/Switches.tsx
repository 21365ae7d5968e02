'use client';
import { newId } from '@/ui/newId';
import { memo } from 'react';
import styled from 'styled-components';
import type { DesignSwitch, SwitchSetting } from '@/core/document/schema';
import { memberOf, withMember, withoutMember, withPosition } from '@/core/editing/switches';
import { formatFixed } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button, TextButton } from '@/ui/Button';
import { Choice } from '@/ui/fields/Choice';
import { NameField } from '@/ui/fields/NameField';
import { Quiet } from '@/ui/sheets';

/** A switch of two positions that sets nothing yet. */
const newSwitch = (number: number): DesignSwitch => {
  const positions = ['A', 'B'].map((name) => ({ id: newId('position'), name, settings: [] }));
  return {
    id: newId('switch'),
    name: `Switch ${number}`,
    positions,
    chosenId: positions[0].id,
  };
};

const none = 'none';
const another = 'new';

/** Whether something is the same in all positions of a switch, and of which. */
export const SwitchMembership = memo(function SwitchMembership({
  kind,
  id,
  name,
}: {
  readonly kind: SwitchSetting['kind'];
  readonly id: string;
  readonly name: string;
}) {
  const desk = useDesk();
  const switches = useDeskState((state) => state.design.switches);
  const owner = memberOf({ switches }, kind, id);
  const choose = (next: string) => {
    const { design } = desk.store.getState();
    const runKey = `member ${kind} ${id} ${newId('run')}`;
    if (owner)
      desk.change(
        { type: 'setSwitch', switch: withoutMember(owner, kind, id) },
        `${name} is the same everywhere`,
        runKey,
      );
    const target =
      next === another ? newSwitch(switches.length + 1) : switches.find((one) => one.id === next);
    if (target)
      desk.change(
        { type: 'setSwitch', switch: withMember(design, target, kind, id) },
        `${name} by ${target.name}`,
        runKey,
      );
  };
  const options = [
    { id: none, text: 'the same in all positions' },
    ...switches.map((one) => ({ id: one.id, text: `set by ${one.name}` })),
    ...(switches.length < 8 ? [{ id: another, text: 'set by a new switch' }] : []),
  ];
  const chosen = owner?.positions.find((position) => position.id === owner.chosenId);
  return (
    <div>
      <Choice
        label={`By switch: ${name}`}
        options={options}
        value={owner?.id ?? none}
        onChange={choose}
      />
      {chosen && <Quiet>What you change now holds for the position {chosen.name}.</Quiet>}
    </div>
  );
});

/** The switches of the speaker, and how it does in each of their positions. */
export function SwitchList() {
  const desk = useDesk();
  const switches = useDeskState((state) => state.design.switches);
  const alternatives = useDeskState((state) => state.study?.alternatives);
  if (switches.length === 0) return null;
  const set = (one: DesignSwitch, label: string) =>
    desk.change({ type: 'setSwitch', switch: one }, label);
  return (
    <>
      <h3>Switches</h3>
      {switches.map((one) => (
        <Frame key={one.id}>
          <NameField
            label="Name of the switch"
            value={one.name}
            onCommit={(name) => set({ ...one, name }, 'rename a switch')}
          />
          <table aria-label={`Positions of ${one.name}`}>
            <thead>
              <tr>
                <th>position</th>
                <th>200 Hz–15 kHz</th>
                <th>least |Z|</th>
                <th title="least resistor that would bring the output stage as near to its limits">
                  equiv. R
                </th>
              </tr>
            </thead>
            <tbody>
              {one.positions.map((position) => {
                const found = alternatives?.find(({ positionId }) => positionId === position.id);
                const isChosen = position.id === one.chosenId;
                return (
                  <tr key={position.id} aria-current={isChosen || undefined}>
                    <td>
                      <NameField
                        label="Name of the position"
                        value={position.name}
                        onCommit={(name) =>
                          set(
                            {
                              ...one,
                              positions: one.positions.map((other) =>
                                other.id === position.id ? { ...other, name } : other,
                              ),
                            },
                            'rename a position',
                          )
                        }
                      />
                    </td>
                    <td>
                      {found?.deviationDb != null && `±${formatFixed(found.deviationDb, 1)} dB`}
                    </td>
                    <td>{found?.lowestOhms != null && `${formatFixed(found.lowestOhms, 1)} Ω`}</td>
                    <td>
                      {found?.equivalentOhms != null && `${formatFixed(found.equivalentOhms, 1)} Ω`}
                    </td>
                    <td>
                      {isChosen ? (
                        'now'
                      ) : (
                        <TextButton
                          aria-label={`Turn ${one.name} to ${position.name}`}
                          onPress={() =>
                            desk.change(
                              { type: 'turnSwitch', id: one.id, positionId: position.id },
                              `turn ${one.name} to ${position.name}`,
                            )
                          }
                        >
                          turn
                        </TextButton>
                      )}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <Buttons>
            <Button
              isDisabled={one.positions.length >= 9}
              onPress={() => {
                const name = String.fromCharCode(65 + one.positions.length);
                const { design } = desk.store.getState();
                set(
                  withPosition(design, one, newId('position'), name),
                  `add a position to ${one.name}`,
                );
              }}
            >
              Add a position
            </Button>
            <Button
              onPress={() =>
                desk.change({ type: 'removeSwitch', id: one.id }, `remove ${one.name}`)
              }
            >
              Remove the switch
            </Button>
          </Buttons>
        </Frame>
      ))}
    </>
  );
}

const Buttons = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
`;

const Frame = styled.div`
  display: grid;
  gap: 0.4rem;
  font-size: 0.8125rem;
  table {
    width: 100%;
    border-collapse: collapse;
  }
  th,
  td {
    text-align: left;
    font-weight: inherit;
    padding: 0.1rem 0.3rem 0.1rem 0;
  }
  th {
    color: ${({ theme }) => theme.colour.quiet};
  }
  tr[aria-current] {
    font-weight: 650;
  }
`;
