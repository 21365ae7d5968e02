'use client';
import styled from 'styled-components';
import type { Measurement } from '@/core/document/schema';
import type { Samples } from '@/core/measurement/samples';

const rowsShown = 6;

interface TableHeadProps {
  readonly measurement: Measurement;
  readonly samples: Samples;
}

/** The first rows of the table that was read. */
export function TableHead({ measurement: { kind, origin }, samples }: TableHeadProps) {
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
            <td>{Number(hz.toPrecision(8))}</td>
            <td>{Number(magnitude[i].toPrecision(7))}</td>
            {phaseDeg && <td>{Number(phaseDeg[i].toPrecision(7))}</td>}
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

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
