'use client';
import { newId } from '@/ui/newId';
import styled from 'styled-components';
import type { Driver } from '@/core/document/schema';
import { emptyDriver } from '@/core/document/schema';
import type { DriverSheet } from '@/core/document/briefSchema';
import type { Dimension } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { ratingKinds } from '@/desk/ratingKinds';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Button } from '@/ui/Button';
import { NameField } from '@/ui/fields/NameField';
import { Quiet, tableLook } from '@/ui/sheets';

/** Figures of a data sheet that are numbers. */
type FigureKey = {
  [K in keyof DriverSheet]: DriverSheet[K] extends number | null ? K : never;
}[keyof DriverSheet];

interface Figure {
  readonly key: FigureKey;
  readonly head: string;
  readonly label: string;
  readonly dimension: Dimension;
  readonly max: number;
  readonly stepBy: number;
}

const figure = (
  key: FigureKey,
  head: string,
  label: string,
  dimension: Dimension,
  max: number,
  stepBy: number,
): Figure => ({ key, head, label, dimension, max, stepBy });

const columns: readonly Figure[] = [
  figure('fsHz', 'fs', 'resonance', 'hertz', 100_000, 1),
  figure('qes', 'Qes', 'electrical Q', 'number', 100, 0.01),
  figure('qms', 'Qms', 'mechanical Q', 'number', 100, 0.1),
  figure('vasLitres', 'Vas', 'equivalent volume', 'litre', 10_000, 1),
  figure('sdCm2', 'Sd', 'cone area', 'squareCentimetre', 10_000, 1),
  figure('mmsG', 'Mms', 'moving mass', 'gram', 10_000, 0.1),
  figure('blTm', 'Bl', 'force factor', 'teslaMetre', 1000, 0.1),
  figure('reOhm', 'Re', 'DC resistance', 'ohm', 1000, 0.1),
  figure('leMh', 'Le', 'inductance of the voice coil, mH', 'number', 100, 0.05),
  figure('xmaxMm', 'Xmax ±', 'excursion to each side', 'millimetre', 200, 0.5),
];
const mechanical = figure(
  'mechanicalMm',
  '',
  'mechanical limit to each side',
  'millimetre',
  500,
  0.5,
);
const rated = figure('ratedWatts', '', 'rated power', 'watt', 10_000, 5);
const nominal = figure('nominalOhms', '', 'nominal impedance', 'ohm', 1000, 1);
const filterHz = figure('filterHz', '', 'filter of the rating', 'hertz', 100_000, 100);
const filterOrder = figure('filterOrder', '', 'order of that filter', 'number', 4, 1);
const kinds = (['noise', 'aes', 'programme', 'system'] as const).map((id) => ({
  id,
  text: ratingKinds[id],
}));

/** What the data sheets say of the drivers one has in mind. */
export function Sheets() {
  const desk = useDesk();
  const drivers = useDeskState((state) => state.design.drivers);
  const add = () => {
    const name = `Driver ${drivers.length + 1}`;
    desk.change({ type: 'addDriver', driver: emptyDriver(newId('driver'), name) }, `add ${name}`);
  };
  return (
    <Card aria-label="Data sheets">
      <header>
        <h3>Drivers in mind</h3>
        <Quiet>what their data sheets say; measurements on the Bench count more</Quiet>
        <Button onPress={add}>Add a driver</Button>
      </header>
      {drivers.length === 0 ? (
        <Quiet>None yet. A woofer’s figures are enough to weigh loudness, size and F3.</Quiet>
      ) : (
        <table>
          <thead>
            <tr>
              <th scope="col">driver</th>
              {columns.map(({ key, head, label }) => (
                <th key={key} scope="col" title={label}>
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {drivers.map((driver) => (
              <SheetRow key={driver.id} driver={driver} />
            ))}
          </tbody>
        </table>
      )}
    </Card>
  );
}

function SheetRow({ driver }: { readonly driver: Driver }) {
  const desk = useDesk();
  const { id, name } = driver;
  return (
    <>
      <tr>
        <th scope="row">
          <NameField
            label={`Name of ${name}`}
            value={name}
            onCommit={(next) =>
              desk.change({ type: 'editDriver', id, set: { name: next } }, `rename ${name}`)
            }
          />
        </th>
        {columns.map((one) => (
          <td key={one.key}>
            <FigureBlank driver={driver} of={one} />
          </td>
        ))}
      </tr>
      <tr>
        <td />
        <Limits colSpan={columns.length}>
          <PowerSentence driver={driver} />
        </Limits>
      </tr>
    </>
  );
}

/**
 * What a driver bears, as a sentence: which power, by which impedance, behind which filter, and
 * where something strikes.
 */
function PowerSentence({ driver }: { readonly driver: Driver }) {
  const desk = useDesk();
  const { id, name, sheet } = driver;
  return (
    <>
      bears <FigureBlank driver={driver} of={rated} /> of{' '}
      <ChoiceBlank
        label={`${name}: kind of rated power`}
        placeholder="which power?"
        options={kinds}
        value={sheet.ratedAs}
        onChange={(ratedAs) =>
          desk.change(
            { type: 'setDriverSheet', id, set: { ratedAs } },
            `data sheet of ${name}`,
            `sheet ${id} ratedAs`,
          )
        }
      />
      {sheet.ratedAs === 'system' && (
        <>
          {' '}
          of order <FigureBlank driver={driver} of={filterOrder} /> at{' '}
          <FigureBlank driver={driver} of={filterHz} />
        </>
      )}{' '}
      at <FigureBlank driver={driver} of={nominal} />, and strikes at ±
      <FigureBlank driver={driver} of={mechanical} />
    </>
  );
}

/** A blank for one figure of a data sheet. */
function FigureBlank({
  driver: { id, name, sheet },
  of: { key, label, dimension, max, stepBy },
}: {
  readonly driver: Driver;
  readonly of: Figure;
}) {
  const desk = useDesk();
  return (
    <QuantityBlank
      label={`${name}: ${label}`}
      value={sheet[key]}
      dimension={dimension}
      min={key === 'filterOrder' ? 1 : 0.001}
      max={max}
      stepBy={stepBy}
      onChange={(value) =>
        desk.change(
          {
            type: 'setDriverSheet',
            id,
            set: { [key]: key === 'filterOrder' && value !== null ? Math.round(value) : value },
          },
          `data sheet of ${name}`,
          `sheet ${id} ${key}`,
        )
      }
    />
  );
}

const Limits = styled.td`
  color: ${({ theme }) => theme.colour.quiet};
  font-size: ${({ theme }) => theme.size.small};
`;

export const Card = styled.section`
  padding: 0.8rem 0;
  border-top: 1px solid ${({ theme }) => theme.colour.grid};
  header {
    display: flex;
    align-items: baseline;
    gap: 0.8rem;
    margin-bottom: 0.4rem;
    > span {
      flex: 1;
    }
  }
  h3 {
    font-size: 0.8125rem;
    white-space: nowrap;
  }
  table {
    ${tableLook}
  }
  th,
  td {
    white-space: nowrap;
  }
`;
