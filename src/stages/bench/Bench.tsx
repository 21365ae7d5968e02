'use client';
import { FilePlus2 } from 'lucide-react';
import { useCallback, useMemo, useRef, useState } from 'react';
import { DropZone } from 'react-aria-components';
import styled from 'styled-components';
import { ProblemError } from '@/core/problem';
import { useRegisterActions, type Action } from '@/desk/actions';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button, PrimaryButton, TextButton } from '@/ui/Button';
import { Note, Quiet } from '@/ui/sheets';
import { importTable } from '@/workers/filesClient';
import { DriverCards } from './DriverCards';
import { MeasurementList } from './MeasurementList';
import { MeasurementSheet } from './MeasurementSheet';
import { useDriverEdits } from './useDriverEdits';

interface Refusal {
  readonly key: string;
  readonly text: string;
}

/** What the drivers really do: read files, look at them, give them to drivers. */
export function Bench() {
  const desk = useDesk();
  const measurements = useDeskState((state) => state.design.measurements);
  const [chosenId, setChosenId] = useState<string | null>(null);
  const [refusals, setRefusals] = useState<readonly Refusal[]>([]);
  const [reading, setReading] = useState(0);
  const [notice, setNotice] = useState('');
  const chooser = useRef<HTMLInputElement>(null);
  const { addDriver } = useDriverEdits();
  const chosen = measurements.find(({ id }) => id === chosenId) ?? measurements.at(0);

  const take = useCallback(
    async (files: readonly File[]) => {
      setRefusals([]);
      setNotice('');
      setReading(files.length);
      const refused: Refusal[] = [];
      let taken = 0;
      for (const file of files) {
        try {
          const { measurement, samples } = await importTable(file);
          if (desk.store.getState().design.measurements.some(({ id }) => id === measurement.id))
            setNotice(`${file.name} holds the same numbers as a measurement that is here already.`);
          else {
            desk.addMeasurement(measurement, samples);
            taken++;
          }
          setChosenId(measurement.id);
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          refused.push({ key: `${file.name} ${refused.length}`, text: error.message });
        }
        setReading((left) => left - 1);
      }
      setRefusals(refused);
      if (taken > 0) setNotice(`${taken} measurement${taken === 1 ? '' : 's'} read.`);
    },
    [desk],
  );

  const actions = useMemo<Action[]>(
    () => [
      {
        id: 'choose-files',
        group: 'Bench',
        name: 'Choose measurement files',
        keys: ['F'],
        run: () => chooser.current?.click(),
      },
      {
        id: 'add-driver',
        group: 'Bench',
        name: 'Add a driver',
        keys: ['D'],
        run: () => addDriver(),
      },
    ],
    [addDriver],
  );
  useRegisterActions(actions);

  return (
    <Layout>
      <Column aria-label="Drivers">
        <Title>
          <h2>Drivers</h2>
          <Button onPress={() => addDriver()}>
            Add a driver <kbd>D</kbd>
          </Button>
        </Title>
        <DriverCards onShow={setChosenId} />
      </Column>
      <Column aria-label="Measurements">
        <Drop
          aria-label="Drop measurement files"
          getDropOperation={() => 'copy'}
          onDrop={(event) => {
            const dropped = event.items.filter((item) => item.kind === 'file');
            void Promise.all(dropped.map((item) => item.getFile())).then(take);
          }}
        >
          <PrimaryButton
            onPress={() => chooser.current?.click()}
            aria-label="Choose measurement files"
          >
            <FilePlus2 size={15} aria-hidden /> Choose files <kbd>F</kbd>
          </PrimaryButton>
          <Quiet>or drop them here: responses and impedances as text tables of any program</Quiet>
          <input
            ref={chooser}
            type="file"
            multiple
            hidden
            aria-label="Measurement files"
            onChange={(event) => {
              const files = [...(event.target.files ?? [])];
              event.target.value = '';
              void take(files);
            }}
          />
        </Drop>
        <div aria-live="polite">
          {reading > 0 && <Quiet>Reading, {reading} to go …</Quiet>}
          {notice !== '' && <Quiet>{notice}</Quiet>}
          {refusals.map(({ key, text }) => (
            <Note key={key} $kind="alarm">
              {text}{' '}
              <TextButton
                onPress={() => setRefusals((all) => all.filter((other) => other.key !== key))}
              >
                Put away
              </TextButton>
            </Note>
          ))}
        </div>
        <MeasurementList chosenId={chosen?.id ?? null} onChoose={setChosenId} />
      </Column>
      <Column aria-label="What was read">
        {chosen ? (
          <MeasurementSheet key={chosen.id} measurement={chosen} />
        ) : (
          <Quiet>
            What is read from a file shows here: its curve, the head of its table, what it was taken
            for and why, and what looks odd.
          </Quiet>
        )}
      </Column>
    </Layout>
  );
}

const Layout = styled.div`
  display: grid;
  grid-template-columns: minmax(19rem, 1fr) minmax(17rem, 0.9fr) minmax(21rem, 1.15fr);
  height: 100%;
`;

const Column = styled.section`
  padding: 0.8rem 0.9rem;
  overflow: auto;
  min-width: 0;
  display: grid;
  align-content: start;
  gap: 0.7rem;
  & + & {
    border-left: 1px solid ${({ theme }) => theme.colour.rule};
  }
`;

const Title = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: center;
`;

const Drop = styled(DropZone)`
  display: grid;
  justify-items: start;
  gap: 0.4rem;
  border: 1px dashed ${({ theme }) => theme.colour.quiet};
  border-radius: ${({ theme }) => theme.radius};
  padding: 0.7rem;
  &[data-drop-target] {
    background: ${({ theme }) => theme.colour.accentWash};
    border-style: solid;
  }
  button kbd {
    color: inherit;
  }
`;
