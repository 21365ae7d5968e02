'use client';
import styled from 'styled-components';
import type { Measurement } from '@/core/design/schema';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { TextButton } from '@/ui/Button';
import { Choice } from '@/ui/Choice';
import { NameField } from '@/ui/NameField';
import { Note, Quiet } from '@/ui/sheets';
import { HealthNotes } from './HealthNotes';
import { MeasurementViews } from './MeasurementViews';
import { MicrophoneSentence } from './MicrophoneSentence';
import { StepList } from './StepList';
import { TableHead } from './TableHead';
import { TakeMeasurement } from './TakeMeasurement';
import { useDriverEdits } from './useDriverEdits';
import { useExamination } from './useExamination';

const newDriver = 'new-driver';

/** One measurement: its curves, what looks wrong with it, what is done to it, where the microphone stood, its table. */
export function MeasurementSheet({ measurement }: { readonly measurement: Measurement }) {
  const desk = useDesk();
  const { id, name, kind, origin } = measurement;
  const isLoaded = useDeskState((state) => state.loaded.has(id));
  const samples = isLoaded ? desk.samples(id) : undefined;
  const examination = useExamination(measurement);
  return (
    <>
      <Head>
        <h2>
          <NameField
            label="Measurement name"
            value={name}
            onCommit={(next) =>
              desk.change(
                { type: 'editMeasurement', id, set: { name: next } },
                'rename a measurement',
              )
            }
          />
        </h2>
        {samples && <TakeMeasurement measurement={measurement} examination={examination} />}
        <TextButton
          onPress={() => desk.change({ type: 'removeMeasurement', id }, `remove ${name}`)}
        >
          Remove
        </TextButton>
      </Head>
      <Pair>
        <Choice
          label="Taken for"
          options={[
            { id: 'response', text: 'a response (dB)' },
            { id: 'impedance', text: 'an impedance (ohm)' },
          ]}
          value={kind}
          onChange={(chosen) =>
            chosen !== kind &&
            desk.change(
              { type: 'editMeasurement', id, set: { kind: chosen } },
              `take ${name} for ${chosen === 'response' ? 'a response' : 'an impedance'}`,
            )
          }
        />
        <AssignChoice measurement={measurement} />
      </Pair>
      {samples ? (
        <MeasurementViews measurement={measurement} samples={samples} examination={examination} />
      ) : (
        <Quiet>Loading the numbers …</Quiet>
      )}
      {origin.warnings.map((warning) => (
        <Note key={warning} $kind="doubt">
          {warning}
        </Note>
      ))}
      {examination && <HealthNotes measurement={measurement} examination={examination} />}
      {kind === 'response' && (
        <>
          <StepList measurement={measurement} examination={examination} />
          <MicrophoneSentence measurement={measurement} examination={examination} />
        </>
      )}
      <Quiet>
        Read as {origin.readAs}; taken for what it is because {origin.kindReason}.
      </Quiet>
      {samples && <TableHead measurement={measurement} samples={samples} />}
    </>
  );
}

function AssignChoice({ measurement }: { readonly measurement: Measurement }) {
  const drivers = useDeskState((state) => state.design.drivers);
  const { addDriver, assign } = useDriverEdits();
  const user = drivers.find(
    ({ responseId, impedanceId }) =>
      responseId === measurement.id || impedanceId === measurement.id,
  );
  return (
    <Choice
      label="Belongs to"
      placeholder="give it to a driver …"
      options={[
        ...drivers.map(({ id, name }) => ({ id, text: name })),
        { id: newDriver, text: 'a new driver' },
      ]}
      value={user?.id ?? null}
      onChange={(chosen) =>
        chosen === newDriver ? addDriver(measurement) : assign(measurement, chosen)
      }
    />
  );
}

const Head = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 0.6rem;
  h2 {
    flex: 1;
    min-width: 0;
  }
`;

const Pair = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 0.6rem;
`;
