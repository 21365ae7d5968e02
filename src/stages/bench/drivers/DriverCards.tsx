'use client';
import type { MeasurementId } from '@/core/fields';
import { Trash2 } from 'lucide-react';
import { useMemo } from 'react';
import styled from 'styled-components';
import { placeHeldFor } from '@/core/editing/switches';
import { moveSinceMeasured } from '@/core/document/moved';
import type { Design, Driver } from '@/core/document/schema';
import { sheetMeasurements } from '@/core/formats/sheetMeasurements';
import { formatNumber } from '@/core/units/quantity';
import { runKey } from '@/desk/history';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button, TextButton } from '@/ui/Button';
import { Choice } from '@/ui/fields/Choice';
import { NameField } from '@/ui/fields/NameField';
import { QuantityField } from '@/ui/fields/QuantityField';
import { Card, Quiet } from '@/ui/sheets';
import { curveStyle } from '@/ui/theme';

const none = 'none';

/** The drivers: which measurements are theirs, and where their acoustic centres lie. */
export function DriverCards({
  onShow,
}: {
  readonly onShow: (measurementId: MeasurementId) => void;
}) {
  const drivers = useDeskState((state) => state.design.drivers);
  const measurements = useDeskState((state) => state.design.measurements);
  const ways = useDeskState((state) => state.design.ways);
  if (drivers.length === 0)
    return (
      <Quiet>No driver yet. Add one, or choose a measurement and give it to a new driver.</Quiet>
    );
  return (
    <>
      {drivers.map((driver, index) => {
        const way = ways.findIndex(({ ends }) =>
          ends.some(({ driverId }) => driverId === driver.id),
        );
        return (
          <DriverCard
            key={driver.id}
            driver={driver}
            measurements={measurements}
            colour={curveStyle(way >= 0 ? way : index).colour}
            onShow={onShow}
          />
        );
      })}
    </>
  );
}

interface DriverCardProps {
  readonly driver: Driver;
  readonly measurements: Design['measurements'];
  readonly colour: string;
  readonly onShow: (measurementId: MeasurementId) => void;
}

function DriverCard({ driver, measurements, colour, onShow }: DriverCardProps) {
  const desk = useDesk();
  const { id, name, position } = driver;
  const slot = (kind: 'response' | 'impedance') => {
    const key = kind === 'response' ? 'responseId' : 'impedanceId';
    const value = driver[key];
    return (
      <Slot>
        <Choice
          label={kind === 'response' ? 'Response' : 'Impedance'}
          options={[
            { id: none, text: `no ${kind} yet` },
            ...measurements.filter((m) => m.kind === kind).map((m) => ({ id: m.id, text: m.name })),
          ]}
          value={value ?? none}
          onChange={(chosen) =>
            desk.change(
              { type: 'editDriver', id, set: { [key]: chosen === none ? null : chosen } },
              `${kind} of ${name}`,
            )
          }
        />
        {value !== null && (
          <TextButton onPress={() => onShow(value)} aria-label={`Show the ${kind} of ${name}`}>
            show
          </TextButton>
        )}
      </Slot>
    );
  };
  const place = (axis: 'xMm' | 'yMm' | 'zMm', label: string) => (
    <QuantityField
      label={label}
      value={position[axis]}
      dimension="millimetre"
      min={-10_000}
      max={10_000}
      step={(value, steps, isFine) => value + steps * (isFine ? 0.1 : 1)}
      onCommit={(value) =>
        desk.change(
          { type: 'editDriver', id, set: { position: { ...position, [axis]: value } } },
          `position of ${name}`,
          `position ${id}`,
        )
      }
    />
  );
  return (
    <Card aria-label={name}>
      <Head style={{ color: colour }}>
        <h3>
          <NameField
            label="Driver name"
            value={name}
            onCommit={(next) =>
              desk.change({ type: 'editDriver', id, set: { name: next } }, 'rename a driver')
            }
          />
        </h3>
        <Button
          onPress={() => desk.change({ type: 'removeDriver', id }, `remove ${name}`)}
          aria-label={`Remove ${name}`}
        >
          <Trash2 size={13} aria-hidden />
        </Button>
      </Head>
      <Slots>
        {slot('response')}
        {slot('impedance')}
      </Slots>
      <Quiet>Acoustic centre from the design axis at the front of the baffle</Quiet>
      <Places>
        {place('xMm', 'to the right')}
        {place('yMm', 'up')}
        {place('zMm', 'forward')}
      </Places>
      <FromSheet driver={driver} />
      <MoveNote driver={driver} />
    </Card>
  );
}

/** For a driver that only its data sheet tells of: curves that follow from its figures. */
function FromSheet({ driver }: { readonly driver: Driver }) {
  const desk = useDesk();
  const temperatureC = useDeskState((state) => state.design.airTemperatureC);
  const made = useMemo(
    () => sheetMeasurements(driver, temperatureC, new Date().toISOString()),
    [driver, temperatureC],
  );
  if (made.measurements.length === 0) return null;
  const what = Object.keys(made.set)
    .map((key) => (key === 'responseId' ? 'response' : 'impedance'))
    .join(' and ');
  return (
    <Quiet>
      Its data sheet is enough for a computed {what}.{' '}
      <TextButton
        onPress={() => {
          const mergeKey = runKey(`sheet ${driver.id}`);
          desk.addMeasurements(made.measurements, made.numbers, {
            label: `compute ${what} of ${driver.name}`,
            mergeKey,
          });
          desk.change(
            { type: 'editDriver', id: driver.id, set: made.set },
            `compute ${what} of ${driver.name}`,
            mergeKey,
          );
        }}
      >
        Compute from the data sheet
      </TextButton>
    </Quiet>
  );
}

/** Says for which switch position the place holds, and what a move since the measurement does. */
function MoveNote({ driver }: { readonly driver: Driver }) {
  const desk = useDesk();
  const design = useDeskState((state) => state.design);
  const { id, name, measuredAt } = driver;
  const heldFor = placeHeldFor(design, id);
  const move = moveSinceMeasured(design, driver);
  return (
    <>
      {heldFor !== null && <Quiet>{heldFor}</Quiet>}
      {move && measuredAt && (
        <Quiet role="status">
          Measured at {[measuredAt.xMm, measuredAt.yMm, measuredAt.zMm].map(mm).join(', ')} mm,
          moved since: its path is {mm(Math.abs(move.addedPathMm))} mm{' '}
          {move.addedPathMm < 0 ? 'shorter' : 'longer'}, its sound comes{' '}
          {formatNumber(Math.abs(move.delayMs))} ms {move.addedPathMm < 0 ? 'earlier' : 'later'}.{' '}
          <TextButton
            onPress={() =>
              desk.change(
                { type: 'editDriver', id, set: { measuredAt: null } },
                `${name} was measured here`,
              )
            }
          >
            It was measured here
          </TextButton>
        </Quiet>
      )}
    </>
  );
}

const mm = (value: number) => formatNumber(Number(value.toFixed(1)));

const Head = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: center;
  h3 {
    flex: 1;
  }
`;

const Slots = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 0.6rem;
  margin: 0.35rem 0 0.5rem;
`;

const Slot = styled.div`
  min-width: 0;
  > button:last-child {
    font-size: ${({ theme }) => theme.size.small};
  }
`;

const Places = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 0.6rem;
`;
