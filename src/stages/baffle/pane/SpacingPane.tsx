'use client';
import { Fragment } from 'react';
import styled from 'styled-components';
import type { Spacing } from '@/core/baffle/spacing';
import type { Design } from '@/core/document/schema';
import type { CrossoverReport } from '@/core/insight/crossoverReports';
import { waySpacing } from '@/core/layout/waySpacing';
import { formatFixed, formatNumber, formatQuantity } from '@/core/units/quantity';
import { useDesk } from '@/desk/DeskContext';
import { QuantityBlank } from '@/ui/fields/Blank';
import { Quiet, Sentence, tableLook } from '@/ui/sheets';

interface SpacingPaneProps {
  readonly design: Design;
  readonly reports: readonly CrossoverReport[];
}

/** What the distances of neighbours do at their crossovers, and where the seat is. */
export function SpacingPane({ design, reports }: SpacingPaneProps) {
  const desk = useDesk();
  const nameOf = (id: string) => design.ways.find((way) => way.id === id)?.name ?? '';
  const height = (key: 'axisHeightMm' | 'earHeightMm', label: string) => (
    <QuantityBlank
      label={label}
      dimension="millimetre"
      stepBy={10}
      min={1}
      max={5000}
      value={design[key]}
      onChange={(mm) =>
        desk.change({ type: 'setHeights', set: { [key]: mm } }, label.toLowerCase(), key)
      }
    />
  );
  return (
    <Layout>
      <Sentence>
        The design axis is {height('axisHeightMm', 'Height of the design axis')} above the floor,
        the ears are {height('earHeightMm', 'Height of the ears')}, and the sum is looked at from{' '}
        <QuantityBlank
          label="Distance of the sum"
          dimension="distance"
          stepBy={100}
          min={100}
          max={100_000}
          value={design.listeningDistanceMm}
          onChange={(distanceMm) =>
            distanceMm !== null &&
            desk.change(
              { type: 'setListeningDistance', distanceMm },
              'distance of the sum',
              'listening distance',
            )
          }
        />
        .
      </Sentence>
      {reports.length === 0 && (
        <Quiet>Spacing is told at crossovers; there is none between the ways yet.</Quiet>
      )}
      {reports.map((report) => {
        const spacing = waySpacing(design, report);
        const title = `${nameOf(report.lowerId)} and ${nameOf(report.upperId)}`;
        return (
          <section key={report.upperId} aria-label={title}>
            <h3>
              {title}, {formatQuantity(Number(report.atHz.toPrecision(3)), 'hertz')}
            </h3>
            {spacing ? (
              <Table>
                <tbody>
                  <Rows design={design} spacing={spacing.vertical} isAcross={false} />
                  {spacing.horizontal && (
                    <Rows design={design} spacing={spacing.horizontal} isAcross />
                  )}
                </tbody>
              </Table>
            ) : (
              <Quiet>The positions of these drivers are not stated.</Quiet>
            )}
          </section>
        );
      })}
    </Layout>
  );
}

const mm = (metres: number) => `${formatNumber(Math.round(1000 * metres))} mm`;
const degrees = (deg: number) => `${formatFixed(Math.abs(deg), 0)}°`;

function Rows({
  design,
  spacing: { apartM, waves, depthM, pathM, lobeDeg, nullsDeg, window },
  isAcross,
}: {
  readonly design: Design;
  readonly spacing: Spacing;
  readonly isAcross: boolean;
}) {
  const [less, more] = isAcross ? ['left', 'right'] : ['down', 'up'];
  const base = isAcross || design.axisHeightMm === null ? 0 : design.axisHeightMm / 1000;
  const rows: readonly (readonly [string, string])[] = [
    ...(isAcross
      ? []
      : ([
          ['centre to centre', `${mm(apartM)}, ${formatFixed(waves, 2)} wavelengths`],
          [
            'depth offset',
            depthM === 0
              ? 'none'
              : `upper one ${mm(Math.abs(depthM))} ${depthM > 0 ? 'nearer' : 'farther back'}`,
          ],
          [
            'path difference at the seat',
            `upper one ${mm(Math.abs(pathM))} ${pathM < 0 ? 'shorter' : 'longer'}`,
          ],
        ] as const)),
    [
      isAcross ? 'main lobe, seen from above' : 'main lobe',
      lobeDeg === null
        ? 'none'
        : Math.abs(lobeDeg) < 0.5
          ? 'straight ahead'
          : `${degrees(lobeDeg)} ${lobeDeg > 0 ? more : less}`,
    ],
    [
      'first nulls',
      nullsDeg.every((deg) => deg === null)
        ? 'none in front'
        : nullsDeg
            .flatMap((deg) => (deg === null ? [] : [`${degrees(deg)} ${deg > 0 ? more : less}`]))
            .join(', '),
    ],
    [
      'within 1 dB at the seat',
      window === null
        ? 'nowhere near the axis'
        : `${mm(window.fromM + base)} to ${mm(window.toM + base)}${isAcross ? ' across' : base === 0 ? ' of the axis' : ' above the floor'}`,
    ],
  ];
  return rows.map(([what, told]) => (
    <Fragment key={what}>
      <tr>
        <th scope="row">{what}</th>
        <td>{told}</td>
      </tr>
    </Fragment>
  ));
}

const Layout = styled.div`
  display: grid;
  gap: 0.7rem;
`;

const Table = styled.table`
  ${tableLook}
`;
