'use client';
import { useMemo, useState } from 'react';
import { Checkbox } from 'react-aria-components';
import styled from 'styled-components';
import type { Measurement } from '@/core/design/schema';
import { thinnedForDisplay } from '@/core/measurement/display';
import type { Samples } from '@/core/measurement/samples';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { TextButton } from '@/ui/Button';
import type { Curve } from '@/ui/chart/curve';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import { levelScale, ohmScale } from '@/ui/chart/window';
import { Choice } from '@/ui/Choice';
import { NameField } from '@/ui/NameField';
import { QuantityField } from '@/ui/QuantityField';
import { Note, Quiet } from '@/ui/sheets';
import { useDriverEdits } from './useDriverEdits';

const newDriver = 'new-driver';
const rowsShown = 6;

/** One measurement: what it was taken for and why, its curve, the head of its table, where the microphone stood. */
export function MeasurementSheet({ measurement }: { readonly measurement: Measurement }) {
  const desk = useDesk();
  const { id, name, kind, origin } = measurement;
  const isLoaded = useDeskState((state) => state.loaded.has(id));
  const samples = isLoaded ? desk.samples(id) : undefined;
  const edit = (
    set: Parameters<typeof desk.change>[0] & { type: 'editMeasurement' },
    label: string,
  ) => desk.change(set, label);

  return (
    <>
      <Head>
        <h2>
          <NameField
            label="Measurement name"
            value={name}
            onCommit={(next) =>
              edit({ type: 'editMeasurement', id, set: { name: next } }, 'rename a measurement')
            }
          />
        </h2>
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
            edit(
              { type: 'editMeasurement', id, set: { kind: chosen } },
              `take ${name} for ${chosen === 'response' ? 'a response' : 'an impedance'}`,
            )
          }
        />
        <AssignChoice measurement={measurement} />
      </Pair>
      {samples ? (
        <MeasuredCurve kind={kind} samples={samples} />
      ) : (
        <Quiet>Loading the numbers …</Quiet>
      )}
      <Quiet>
        Read as {origin.readAs}; taken for what it is because {origin.kindReason}.
      </Quiet>
      {origin.warnings.map((warning) => (
        <Note key={warning} $kind="doubt">
          {warning}
        </Note>
      ))}
      {kind === 'response' && <MicrophoneSentence measurement={measurement} />}
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

/** Where the microphone was, as a sentence: it decides whether a path is already in the data. */
function MicrophoneSentence({
  measurement: { id, microphone, driveVolts },
}: {
  readonly measurement: Measurement;
}) {
  const desk = useDesk();
  const set = (change: Partial<Measurement['microphone']>, label: string, mergeKey?: string) =>
    desk.change(
      { type: 'editMeasurement', id, set: { microphone: { ...microphone, ...change } } },
      label,
      mergeKey,
    );
  return (
    <Sentence>
      <Choice
        label="The microphone stood"
        options={[
          { id: 'design-axis', text: 'on the design axis' },
          { id: 'own-axis', text: 'on this driver’s axis' },
        ]}
        value={microphone.placement}
        onChange={(placement) => set({ placement }, 'place of the microphone')}
      />
      <QuantityField
        label="from the baffle"
        value={microphone.distanceMm}
        dimension="millimetre"
        min={1}
        max={20_000}
        step={(value, steps, isFine) => value + steps * (isFine ? 1 : 10)}
        onCommit={(distanceMm) =>
          set({ distanceMm }, 'distance of the microphone', `distance ${id}`)
        }
      />
      <QuantityField
        label="driven with"
        value={driveVolts}
        dimension="volt"
        min={0.001}
        max={100}
        onCommit={(volts) =>
          desk.change({ type: 'editMeasurement', id, set: { driveVolts: volts } }, 'drive voltage')
        }
      />
      <Tick
        isSelected={microphone.commonTiming}
        onChange={(commonTiming) => set({ commonTiming }, 'timing of the measurement')}
      >
        <span aria-hidden>{microphone.commonTiming ? '✓' : ''}</span> Timing is common to the set:
        flight times are in the data and are not added again.
      </Tick>
    </Sentence>
  );
}

function MeasuredCurve({
  kind,
  samples,
}: {
  readonly kind: Measurement['kind'];
  readonly samples: Samples;
}) {
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const { frequencyHz, magnitude } = useMemo(() => thinnedForDisplay(samples), [samples]);
  const curves = useMemo<Curve[]>(
    () => [{ id: 'measured', label: '', values: magnitude, colour: 'var(--ink)', width: 1.6 }],
    [magnitude],
  );
  const isResponse = kind === 'response';
  return (
    <FrequencyChart
      title={isResponse ? 'Level as measured' : 'Impedance as measured'}
      frequencyHz={frequencyHz}
      curves={curves}
      {...(isResponse ? levelScale : ohmScale)(magnitude)}
      unit={isResponse ? 'dB' : 'Ω'}
      cursorHz={cursorHz}
      onCursor={setCursorHz}
    />
  );
}

function TableHead({
  measurement: { kind, origin },
  samples,
}: {
  readonly measurement: Measurement;
  readonly samples: Samples;
}) {
  const { frequencyHz, magnitude, phaseDeg } = samples;
  return (
    <Table>
      <caption>
        {origin.fileName}: the first of {origin.rowCount.toLocaleString('en')} rows
        {origin.header.length > 0 && `, under “${origin.header.at(-1)}”`}
      </caption>
      <thead>
        <tr>
          <th scope="col">Hz</th>
          <th scope="col">{kind === 'response' ? 'dB' : 'ohm'}</th>
          {phaseDeg && <th scope="col">degrees</th>}
        </tr>
      </thead>
      <tbody>
        {Array.from(frequencyHz.subarray(0, rowsShown), (hz, i) => (
          <tr key={hz}>
            <td>{hz}</td>
            <td>{magnitude[i]}</td>
            {phaseDeg && <td>{phaseDeg[i]}</td>}
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

const Head = styled.div`
  display: flex;
  justify-content: space-between;
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

const Sentence = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr) minmax(0, 0.8fr);
  gap: 0.4rem 0.6rem;
`;

const Tick = styled(Checkbox)`
  grid-column: 1 / -1;
  display: flex;
  gap: 0.5rem;
  font-size: 0.8125rem;
  cursor: pointer;
  > span {
    flex: none;
    display: grid;
    place-items: center;
    width: 1.1rem;
    height: 1.1rem;
    border: 1px solid ${({ theme }) => theme.colour.quiet};
    border-radius: 2px;
    background: ${({ theme }) => theme.colour.raised};
    color: ${({ theme }) => theme.colour.accent};
    font-weight: 700;
  }
  &[data-focus-visible] > span {
    outline: 2px solid ${({ theme }) => theme.colour.accent};
    outline-offset: 2px;
  }
`;

const Table = styled.table`
  border-collapse: collapse;
  font-family: ${({ theme }) => theme.font.figures};
  font-size: ${({ theme }) => theme.size.small};
  caption {
    text-align: left;
    color: ${({ theme }) => theme.colour.quiet};
    padding-bottom: 0.25rem;
    overflow-wrap: anywhere;
  }
  th,
  td {
    text-align: right;
    padding: 0.12rem 0.8rem 0.12rem 0;
    border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
  }
`;
