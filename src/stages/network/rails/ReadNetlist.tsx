'use client';
import { newId } from '@/ui/newId';
import { useState } from 'react';
import { Dialog, FileTrigger, Heading, Modal } from 'react-aria-components';
import styled from 'styled-components';
import { driverCandidates, likelyDrivers } from '@/core/circuit/netlistDrivers';
import { railsFromNetlist } from '@/core/circuit/railsFromNetlist';
import { readSpice, type SpiceCircuit } from '@/core/network/spice';
import { withDriversAsResistors } from '@/core/network/writeSpice';
import { problem, ProblemError, sentence } from '@/core/problem';
import { formatQuantity } from '@/core/units/quantity';
import { Veil } from '@/desk/ActionFinder';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button, PrimaryButton } from '@/ui/Button';
import { Choice } from '@/ui/fields/Choice';
import { Note, Quiet } from '@/ui/sheets';

/** Far more than a network for loudspeakers has. */
const mostBytes = 200_000;
const none = 'none';

interface ReadNetlistProps {
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
}

/** Reads a SPICE netlist, asks which element represents which driver, and lays it out on rails. */
export function ReadNetlist({ isOpen, onOpenChange }: ReadNetlistProps) {
  return (
    <Veil isOpen={isOpen} onOpenChange={onOpenChange} isDismissable>
      <Modal>
        <Sheet>
          <Heading slot="title">Read a netlist</Heading>
          <Steps onDone={() => onOpenChange(false)} />
        </Sheet>
      </Modal>
    </Veil>
  );
}

function Steps({ onDone }: { readonly onDone: () => void }) {
  const desk = useDesk();
  const drivers = useDeskState((state) => state.design.drivers);
  const [circuit, setCircuit] = useState<SpiceCircuit | null>(null);
  const [chosen, setChosen] = useState<ReadonlyMap<string, string>>(new Map());
  const [trouble, setTrouble] = useState<string | null>(null);

  const attempt = (work: () => void) => {
    setTrouble(null);
    try {
      work();
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setTrouble(sentence(error.problem));
    }
  };
  const read = async (file: File) => {
    const text = file.size > mostBytes ? null : await file.text();
    attempt(() => {
      if (text === null)
        throw problem(
          'netlist_too_large',
          file.name,
          `${file.name} is larger than ${mostBytes / 1000} kB.`,
          'No network for a loudspeaker is that long.',
          'Choose a SPICE netlist.',
        );
      const next = readSpice(withDriversAsResistors(text), file.name);
      setCircuit(next);
      setChosen(likelyDrivers(next.netlist, desk.store.getState().design));
    });
  };
  const layOut = (from: SpiceCircuit) =>
    attempt(() => {
      const { design: before } = desk.store.getState();
      const names = new Map([...chosen].map(([driverId, name]) => [name, driverId]));
      const { design, warnings } = railsFromNetlist(from.netlist, names, before, () =>
        newId('part'),
      );
      desk.change({ type: 'replaceDesign', design }, `read the netlist ${from.title.slice(0, 40)}`);
      desk.select(null);
      if (warnings.length === 0) onDone();
      else setTrouble(`Laid out. ${warnings.join(' ')}`);
    });

  const options = circuit
    ? driverCandidates(circuit.netlist).map(({ name, a, b, ohms }) => ({
        id: name,
        text: `${name}, ${formatQuantity(ohms, 'ohm')}, from ${a} to ${b}`,
      }))
    : [];
  return (
    <>
      <Quiet>
        R, L, C, K and V are read. A voltage source is an amplifier; each measured driver is taken
        for one resistor of the netlist. The present network is replaced; undo brings it back.
      </Quiet>
      <FileTrigger
        acceptedFileTypes={['.cir', '.net', '.sp', '.ckt', '.txt']}
        onSelect={(files) => {
          const file = files?.item(0);
          if (file) void read(file);
        }}
      >
        <Button>{circuit ? 'Choose another file' : 'Choose a file'}</Button>
      </FileTrigger>
      {circuit && (
        <>
          <p>
            <strong>{circuit.title}</strong>, {circuit.netlist.elements.length} elements
          </p>
          {circuit.warnings.slice(0, 4).map((warning) => (
            <Quiet key={warning}>{warning}</Quiet>
          ))}
          {drivers.map(({ id, name }) => (
            <Choice
              key={id}
              label={`${name} represents`}
              options={[{ id: none, text: 'nothing' }, ...options]}
              value={chosen.get(id) ?? none}
              onChange={(element) => {
                // An element represents one driver: who had it before gives it up.
                const kept = [...chosen].filter(([other, one]) => other !== id && one !== element);
                setChosen(new Map(element === none ? kept : [...kept, [id, element]]));
              }}
            />
          ))}
          {drivers.length === 0 && <Quiet>There is no driver yet: the Bench comes first.</Quiet>}
          <PrimaryButton isDisabled={chosen.size === 0} onPress={() => layOut(circuit)}>
            Lay it out on rails
          </PrimaryButton>
        </>
      )}
      {trouble !== null && (
        <Note $kind="alarm" role="alert">
          {trouble}
        </Note>
      )}
    </>
  );
}

const Sheet = styled(Dialog)`
  display: grid;
  gap: 0.7rem;
  width: 30rem;
  max-height: 76vh;
  overflow: auto;
  padding: 1rem 1.2rem;
  background: ${({ theme }) => theme.colour.sheet};
  border-radius: ${({ theme }) => theme.radius};
  outline: none;
`;
