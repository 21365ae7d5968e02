'use client';
import type { DriverId } from '@/core/fields';
import { useState } from 'react';
import styled from 'styled-components';
import type { Measurement } from '@/core/document/schema';
import { looksLikeImpedance } from '@/core/measurement/samples';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { TextButton } from '@/ui/Button';
import { Choice } from '@/ui/fields/Choice';
import { NameField } from '@/ui/fields/NameField';
import { Note, Quiet } from '@/ui/sheets';
import { HealthNotes } from './HealthNotes';
import { MeasurementViews } from './MeasurementViews';
import { MicrophoneSentence } from './MicrophoneSentence';
import { StepList } from './StepList';
import { TableHead } from './TableHead';
import { ExportMeasurement } from './ExportMeasurement';
import { useDriverEdits } from './useDriverEdits';
import { useExamination } from './useExamination';

const newDriver = 'new-driver';

/**
 * One measurement: its curves, what looks wrong with it, what is done to it, where the microphone
 * stood, its table.
 */
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
        {samples && <ExportMeasurement measurement={measurement} examination={examination} />}
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
  const desk = useDesk();
  const drivers = useDeskState((state) => state.design.drivers);
  const measurements = useDeskState((state) => state.design.measurements);
  const { addDriver, assign } = useDriverEdits();
  /** What the user has to say yes to: the driver, and what would be replaced or looks wrong. */
  const [doubt, setDoubt] = useState<{ driverId: DriverId; text: string } | null>(null);
  const user = drivers.find(
    ({ responseId, impedanceId }) =>
      responseId === measurement.id || impedanceId === measurement.id,
  );
  const give = (driverId: DriverId) => {
    setDoubt(null);
    if (driverId === newDriver) addDriver(measurement);
    else assign(measurement, driverId);
  };
  const ask = (driverId: DriverId) => {
    const driver = drivers.find(({ id }) => id === driverId);
    const isResponse = measurement.kind === 'response';
    const presentId = isResponse ? driver?.responseId : driver?.impedanceId;
    const present = measurements.find(({ id }) => id === presentId && id !== measurement.id);
    const samples = desk.samples(measurement.id);
    const text = [
      isResponse && samples && looksLikeImpedance(samples)
        ? 'Its numbers look like ohms, and it is taken for a response: see “Taken for” above.'
        : '',
      present && driver
        ? `${driver.name} has “${present.name}” already; it would be replaced.`
        : '',
    ]
      .filter(Boolean)
      .join(' ');
    if (text === '') give(driverId);
    else setDoubt({ driverId, text });
  };
  return (
    <div>
      <Choice
        label="Belongs to"
        placeholder="give it to a driver …"
        options={[
          ...drivers.map(({ id, name }) => ({ id, text: name })),
          { id: newDriver, text: 'a new driver' },
        ]}
        value={user?.id ?? null}
        onChange={ask}
      />
      {doubt && (
        <Note $kind="doubt" role="alert">
          {doubt.text}{' '}
          <TextButton onPress={() => give(doubt.driverId)}>Give it all the same</TextButton>{' '}
          <TextButton onPress={() => setDoubt(null)}>Leave it</TextButton>
        </Note>
      )}
    </div>
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
