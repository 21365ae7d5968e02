'use client';
import styled from 'styled-components';
import type { Driver } from '@/core/design/schema';
import { emptyDriver } from '@/core/design/schema';
import type { DriverSheet } from '@/core/design/briefSchema';
import type { Dimension } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { QuantityBlank } from '@/ui/Blank';
import { Button } from '@/ui/Button';
import { NameField } from '@/ui/NameField';
import { Quiet, tableLook } from '@/ui/sheets';

interface Column {
  readonly key: keyof DriverSheet;
  readonly head: string;
  readonly label: string;
  readonly dimension: Dimension;
  readonly max: number;
  readonly stepBy: number;
}

const columns: readonly Column[] = [
  { key: 'fsHz', head: 'fs', label: 'resonance', dimension: 'hertz', max: 100_000, stepBy: 1 },
  { key: 'qes', head: 'Qes', label: 'electrical Q', dimension: 'number', max: 100, stepBy: 0.01 },
  { key: 'qms', head: 'Qms', label: 'mechanical Q', dimension: 'number', max: 100, stepBy: 0.1 },
  {
    key: 'vasLitres',
    head: 'Vas',
    label: 'equivalent volume',
    dimension: 'litre',
    max: 10_000,
    stepBy: 1,
  },
  {
    key: 'sdCm2',
    head: 'Sd',
    label: 'cone area',
    dimension: 'squareCentimetre',
    max: 10_000,
    stepBy: 1,
  },
  {
    key: 'xmaxMm',
    head: 'travel ±',
    label: 'travel to each side',
    dimension: 'millimetre',
    max: 200,
    stepBy: 0.5,
  },
  { key: 'reOhm', head: 'Re', label: 'DC resistance', dimension: 'ohm', max: 1000, stepBy: 0.1 },
  {
    key: 'ratedWatts',
    head: 'power',
    label: 'rated power',
    dimension: 'watt',
    max: 10_000,
    stepBy: 5,
  },
];

/** What the data sheets say of the drivers one has in mind. */
export function Sheets() {
  const desk = useDesk();
  const drivers = useDeskState((state) => state.design.drivers);
  const add = () => {
    const name = `Driver ${drivers.length + 1}`;
    desk.change(
      { type: 'addDriver', driver: emptyDriver(`driver-${crypto.randomUUID().slice(0, 8)}`, name) },
      `add ${name}`,
    );
  };
  return (
    <Card aria-label="Data sheets">
      <header>
        <h3>Drivers in mind</h3>
        <Quiet>what their data sheets say; measurements on the Bench count more</Quiet>
        <Button onPress={add}>Add a driver</Button>
      </header>
      {drivers.length === 0 ? (
        <Quiet>None yet. A woofer’s figures are enough to weigh loudness, size and reach.</Quiet>
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

function SheetRow({ driver: { id, name, sheet } }: { readonly driver: Driver }) {
  const desk = useDesk();
  return (
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
      {columns.map(({ key, label, dimension, max, stepBy }) => (
        <td key={key}>
          <QuantityBlank
            label={`${name}: ${label}`}
            value={sheet[key]}
            dimension={dimension}
            min={0.001}
            max={max}
            stepBy={stepBy}
            onChange={(value) =>
              desk.change(
                { type: 'setDriverSheet', id, set: { [key]: value } },
                `data sheet of ${name}`,
                `sheet ${id} ${key}`,
              )
            }
          />
        </td>
      ))}
    </tr>
  );
}

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
