'use client';
import type { PointerEvent } from 'react';
import styled from 'styled-components';
import type { PromiseKind } from '@/core/document/briefSchema';
import { type FoundNetwork } from '@/core/exploration/found';
import { figureBeside, figureText, kinds } from '@/core/promises/kinds/kinds';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { TextButton } from '@/ui/Button';
import { tableLook } from '@/ui/sheets';

interface SearchTableProps {
  readonly networks: readonly FoundNetwork[];
  readonly shown: FoundNetwork | null;
  readonly currency: string;
  readonly onShow: (network: FoundNetwork) => void;
  readonly onTakeOver: (network: FoundNetwork) => void;
}

/** Networks with what one decides by; each row shows its network when it is pointed at. */
export function SearchTable({ networks, shown, currency, onShow, onTakeOver }: SearchTableProps) {
  return (
    <Table aria-label="Networks found">
      <thead>
        <tr>
          <th scope="col">parts</th>
          <th scope="col" title="deviation on axis">
            ± dB
          </th>
          <th scope="col" title="deviation in the listening window">
            window
          </th>
          <th scope="col" title="directivity index off a straight line">
            DI
          </th>
          <th scope="col" title="what neighbours lose at the crossovers">
            loss dB
          </th>
          <th scope="col" title="lowest impedance">
            |Z| Ω
          </th>
          <th scope="col" title="what parts within ±5 % make of the response, rms">
            scatter dB
          </th>
          <th scope="col" title="of all parts, at the prices of the settings">
            {currency}
          </th>
        </tr>
      </thead>
      {networks.map((network) => {
        const name = `of ${network.partCount} parts, ±${formatFixed(network.figures.deviationDb, 2)} dB`;
        const lossDb = network.report?.lossDb ?? network.figures.lossDb;
        return (
          <tbody
            key={keyOf(network)}
            aria-current={network === shown ? 'true' : undefined}
            onPointerMove={(event) => isMoved(event) && network !== shown && onShow(network)}
          >
            <tr>
              <th scope="row">
                <TextButton
                  aria-label={`Show the network ${name}`}
                  onPress={() => onShow(network)}
                  onFocus={() => onShow(network)}
                >
                  {network.partCount}
                </TextButton>
              </th>
              <td>{formatFixed(network.figures.deviationDb, 2)}</td>
              <td>{figure(network.figures.windowDb)}</td>
              <td>{figure(network.figures.directivityDb)}</td>
              <td>{lossDb === null ? '' : formatFixed(lossDb, 2)}</td>
              <td>{formatFixed(network.figures.lowestOhms, 1)}</td>
              <td>{formatFixed(network.scatterDb, 2)}</td>
              <td>{formatFixed(network.figures.outlay, 0)}</td>
            </tr>
            <tr>
              <Told colSpan={8}>
                {network.report && <span>{crossoverWords(network)}. </span>}
                {network.report && <span>{protectionWords(network)}</span>}
                <Broken>{brokenWords(network)}</Broken>{' '}
                <TextButton
                  aria-label={`Take over the network ${name}`}
                  onPress={() => onTakeOver(network)}
                >
                  take over
                </TextButton>
              </Told>
            </tr>
          </tbody>
        );
      })}
    </Table>
  );
}

const figure = (db: number | null) => (db === null ? '' : formatFixed(db, 2));

const keyOf = ({ recipe, emphasis, figures }: FoundNetwork) =>
  `${JSON.stringify(recipe)} ${emphasis} ${figures.deviationDb}`;

/** A table that moves under a pointer at rest shows nothing. */
const isMoved = ({ movementX, movementY }: PointerEvent) => movementX !== 0 || movementY !== 0;

const slope = (db: number | null) => (db === null ? '–' : formatFixed(Math.abs(db), 0));

/** Where it hands over, and how steeply: `521 Hz 9/12, 3.6 kHz 14/18 dB/oct`. */
const crossoverWords = ({ report }: FoundNetwork): string =>
  (report?.crossovers ?? [])
    .map(
      ({ hz, slopesDb: [lower, upper] }) =>
        `${formatQuantity(Number(hz.toPrecision(3)), 'hertz')} ${slope(lower)}/${slope(upper)}`,
    )
    .join(', ')
    .concat(' dB/oct');

const protecting: readonly PromiseKind[] = ['driver-power', 'travel', 'resonance'];

/** How far its drivers are from their limits. */
const protectionWords = ({ report }: FoundNetwork): string => {
  const told = protecting.flatMap((kind) => {
    const one = report?.promises.find((promise) => promise.kind === kind);
    return one ? [`${kinds[kind].title.toLowerCase()} ${figureText(kind, one.value)}`] : [];
  });
  return told.length > 0 ? `Reserves: ${told.join(', ')}. ` : '';
};

/** What it breaks, and by what. */
const brokenWords = ({ report, figures }: FoundNetwork): string => {
  if (!report) return figures.brokenCount > 0 ? `${figures.brokenCount} limits broken so far.` : '';
  const broken = report.promises.filter(({ isKept }) => isKept === false);
  return broken.length === 0
    ? 'Keeps all promises.'
    : `Breaks ${broken
        .map((one) => `${kinds[one.kind].title} (${figureBeside(one, one.value)})`)
        .join(', ')}.`;
};

const Table = styled.table`
  ${tableLook}
  tbody[aria-current='true'] {
    background: ${({ theme }) => theme.colour.accentWash};
  }
`;

const Told = styled.td`
  && {
    text-align: left;
    white-space: normal;
    color: ${({ theme }) => theme.colour.quiet};
    padding-bottom: 0.5rem;
  }
`;

const Broken = styled.strong`
  font-weight: 600;
`;
