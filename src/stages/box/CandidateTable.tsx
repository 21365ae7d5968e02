'use client';
import styled from 'styled-components';
import type { Box } from '@/core/document/boxSchema';
import { boxKindWords } from '@/core/told/boxes';
import { isShortOfLevel } from '@/core/lows/boxFigures';
import type { BoxView } from '@/core/lows/view';
import { formatFixed } from '@/core/units/quantity';
import { Button, TextButton } from '@/ui/Button';
import { curveStyle } from '@/ui/theme';
import { tableLook } from '@/ui/sheets';

interface CandidateTableProps {
  readonly boxes: readonly Box[];
  readonly views: ReadonlyMap<string, BoxView>;
  readonly drawn: Box;
  readonly currency: string;
  /** Limits of the brief, to be held against. */
  readonly f3Hz: number | null;
  readonly f10Hz: number | null;
  readonly wantedDb: number | null;
  readonly onDraw: (box: Box) => void;
  readonly onUse: (box: Box) => void;
}

const figure = (value: number | null | undefined, decimals = 0) =>
  value === null || value === undefined ? '–' : formatFixed(value, decimals);

/** Boxes side by side: choosing one draws it, using one makes it the design's. */
export function CandidateTable({
  boxes,
  views,
  drawn,
  currency,
  f3Hz,
  f10Hz,
  wantedDb,
  onDraw,
  onUse,
}: CandidateTableProps) {
  const isMissed = (value: number | null | undefined, limit: number | null) =>
    typeof value === 'number' && limit !== null && Math.round(value) > limit;
  return (
    <Scroll>
      <Table aria-label="Boxes side by side">
        <thead>
          <tr>
            <th>box</th>
            <th>net l</th>
            <th>tuned Hz</th>
            <th>F3 Hz</th>
            <th>F10 Hz</th>
            <th>hump dB</th>
            <th>delay ms</th>
            <th>cone mm</th>
            <th>port m/s</th>
            <th>clean dB</th>
            <th>outside l</th>
            <th>cost {currency}</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {boxes.map((box, k) => {
            const view = views.get(box.id);
            const figures = view?.figures ?? null;
            return (
              <tr key={box.id} data-drawn={box.id === drawn.id || undefined}>
                <th scope="row">
                  <Swatch style={{ background: curveStyle(k).colour }} />
                  <TextButton onPress={() => onDraw(box)}>{box.name}</TextButton>
                  <small>{boxKindWords[box.kind]}</small>
                </th>
                <td>{figure(view?.volume.netLitres, 1)}</td>
                <td>{figure(view?.tunedHz, 1)}</td>
                <td data-missed={isMissed(figures?.f3Hz, f3Hz) || undefined}>
                  {figure(figures?.f3Hz)}
                </td>
                <td data-missed={isMissed(figures?.f10Hz, f10Hz) || undefined}>
                  {figure(figures?.f10Hz)}
                </td>
                <td>{figure(figures?.humpDb, 1)}</td>
                <td>{figure(figures?.groupDelayMs)}</td>
                <td>{figure(figures?.excursionMm, 1)}</td>
                <td>{figure(figures?.portMps, 1)}</td>
                <td data-missed={isShortOfLevel(figures?.cleanF3Db ?? null, wantedDb) || undefined}>
                  {figure(figures?.cleanF3Db)}
                </td>
                <td>{figure(view?.outsideLitres)}</td>
                <td>{figure(view?.outlay.whole)}</td>
                <td>
                  {box.isUsed ? (
                    <strong>in use</strong>
                  ) : (
                    <Button aria-label={`Use ${box.name}`} onPress={() => onUse(box)}>
                      Use
                    </Button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </Table>
    </Scroll>
  );
}

const Scroll = styled.div`
  overflow: auto;
  min-width: 0;
  padding: 0.4rem 0.8rem;
`;

const Table = styled.table`
  ${tableLook}
  font-variant-numeric: tabular-nums;
  th,
  td {
    padding-right: 0.3rem;
    white-space: nowrap;
  }
  thead th {
    white-space: normal;
    vertical-align: bottom;
    max-width: 3.4rem;
  }
  small {
    display: block;
    margin-left: calc(10px + 0.4rem);
    color: ${({ theme }) => theme.colour.quiet};
    white-space: normal;
  }
  [data-drawn] {
    background: ${({ theme }) => theme.colour.accentWash};
  }
  [data-missed] {
    color: ${({ theme }) => theme.colour.alarm};
    font-weight: 600;
  }
  button {
    padding-top: 0.1rem;
    padding-bottom: 0.1rem;
  }
`;

const Swatch = styled.span`
  display: inline-block;
  width: 10px;
  height: 3px;
  margin-right: 0.4rem;
  vertical-align: middle;
`;
