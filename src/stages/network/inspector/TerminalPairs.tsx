'use client';
import { newId } from '@/ui/newId';
import styled from 'styled-components';
import { firstPair, type TerminalPair } from '@/core/document/schema';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Button, TextButton } from '@/ui/Button';
import { NameField } from '@/ui/fields/NameField';
import { Tick } from '@/ui/fields/Tick';
import { Sentence } from '@/ui/sheets';

/** The pairs of terminals, each with the amplifier on it. */
export function TerminalPairs() {
  const desk = useDesk();
  const terminals = useDeskState((state) => state.design.terminals);
  const isJoined = useDeskState((state) => state.design.isJoined);
  const amplifier = useDeskState((state) => state.design.amplifier);
  const loads = useDeskState((state) => state.prediction?.loads);
  const set = (pairs: readonly TerminalPair[], joined: boolean, label: string, runKey?: string) =>
    desk.change({ type: 'setTerminals', terminals: [...pairs], isJoined: joined }, label, runKey);
  const edit = (id: string, more: Partial<TerminalPair>, label: string, runKey?: string) =>
    set(
      terminals.map((pair) => (pair.id === id ? { ...pair, ...more } : pair)),
      isJoined,
      label,
      runKey,
    );
  const add = () =>
    set(
      [
        ...terminals,
        {
          ...firstPair,
          id: newId('pair'),
          name: `Pair ${terminals.length + 1}`,
        },
      ],
      isJoined,
      'add a pair of terminals',
    );
  return (
    <>
      <h3>Terminals</h3>
      {terminals.length > 1 && (
        <Pairs>
          {terminals.map((pair) => {
            const { id, name, gainDb, polarity, outputOhms } = pair;
            const load = loads?.find(({ pairId }) => pairId === id);
            return (
              <li key={id}>
                <NameField
                  label="Name of the pair"
                  value={name}
                  onCommit={(next) => edit(id, { name: next }, 'rename a pair')}
                />
                <Sentence>
                  Its amplifier plays{' '}
                  <QuantityBlank
                    label={`gain at ${name}`}
                    value={gainDb}
                    dimension="decibel"
                    min={-40}
                    max={20}
                    stepBy={0.5}
                    onChange={(next) => edit(id, { gainDb: next ?? 0 }, `gain at ${name}`, id)}
                  />
                  ,{' '}
                  <ChoiceBlank
                    label={`polarity at ${name}`}
                    options={[
                      { id: 'normal', text: 'in phase' },
                      { id: 'reversed', text: 'reversed' },
                    ]}
                    value={polarity}
                    onChange={(next) =>
                      edit(id, { polarity: next ?? 'normal' }, `polarity at ${name}`)
                    }
                  />
                  , behind{' '}
                  <QuantityBlank
                    label={`output resistance at ${name}`}
                    value={outputOhms ?? null}
                    placeholder={formatQuantity(amplifier.outputOhms, 'ohm')}
                    dimension="ohm"
                    min={0}
                    max={100}
                    stepBy={0.01}
                    onChange={(next) =>
                      edit(
                        id,
                        { outputOhms: next ?? undefined },
                        `output resistance at ${name}`,
                        `output ${id}`,
                      )
                    }
                  />
                  .{load && ` It sees at least ${formatFixed(lowest(load.ohms), 1)} Ω.`}{' '}
                  <TextButton
                    aria-label={`Remove the pair ${name}`}
                    onPress={() =>
                      set(
                        terminals.filter((other) => other.id !== id),
                        isJoined && terminals.length > 2,
                        `remove ${name}`,
                      )
                    }
                  >
                    Remove
                  </TextButton>
                </Sentence>
              </li>
            );
          })}
        </Pairs>
      )}
      {terminals.length > 1 && (
        <Tick
          isSelected={isJoined}
          onChange={(joined) =>
            set(terminals, joined, joined ? 'join the pairs' : 'part the pairs')
          }
        >
          Links join the pairs: one amplifier, set as at {terminals[0].name}
        </Tick>
      )}
      {terminals.length < 6 && (
        <Button onPress={add}>
          {terminals.length === 1 ? 'Add a second pair' : 'Add another pair'}
        </Button>
      )}
    </>
  );
}

const lowest = (ohms: Float64Array) => ohms.reduce((least, value) => Math.min(least, value));

const Pairs = styled.ul`
  display: grid;
  gap: 0.5rem;
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 0.8125rem;
`;
