'use client';
import { Printer } from 'lucide-react';
import { useMemo, useState } from 'react';
import styled from 'styled-components';
import { sheetFigures } from '@/core/driver/sheetFigures';
import { toldSource } from '@/core/told/provenance';
import type { Driver, Measurement } from '@/core/document/schema';
import { thinnedForDisplay } from '@/core/measurement/display';
import { formatNumber, formatQuantity } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import { levelScale, ohmScale } from '@/ui/chart/window';
import { Choice } from '@/ui/fields/Choice';
import { PrintSheet } from '@/ui/PrintSheet';
import { Quiet, tableLook } from '@/ui/sheets';
import { ratingKinds } from '@/desk/ratingKinds';
import { useExamination } from '@/stages/bench/measurement/useExamination';

/** All that is known of a driver on one sheet of paper. */
export function PaperSheet() {
  const drivers = useDeskState((state) => state.design.drivers);
  const [chosenId, setChosenId] = useState<string | null>(null);
  const driver = drivers.find(({ id }) => id === chosenId) ?? drivers.at(0);
  if (!driver) return <Quiet>A driver’s sheet can be printed once there is a driver.</Quiet>;
  return (
    <>
      <Head>
        <Choice
          label="Driver"
          options={drivers.map(({ id, name }) => ({ id, text: name }))}
          value={driver.id}
          onChange={setChosenId}
        />
        <Button onPress={() => window.print()}>
          <Printer size={14} aria-hidden /> Print this sheet
        </Button>
      </Head>
      <Paper driver={driver} />
    </>
  );
}

function Paper({ driver }: { readonly driver: Driver }) {
  const projectName = useDeskState((state) => state.design.name);
  const temperatureC = useDeskState((state) => state.design.airTemperatureC);
  const measurements = useDeskState((state) => state.design.measurements);
  const find = (id: string | null) => measurements.find((m) => m.id === id);
  const response = find(driver.responseId);
  const impedance = find(driver.impedanceId);
  return (
    <PrintSheet>
      <header>
        <h2>{driver.name}</h2>
        <Quiet>{projectName}, driver sheet</Quiet>
      </header>
      <Curves>
        {response ? (
          <CurveOf key={response.id} measurement={response} title="Response, as it is used" />
        ) : (
          <Quiet>No response was measured.</Quiet>
        )}
        {impedance ? (
          <CurveOf key={impedance.id} measurement={impedance} title="Impedance" />
        ) : (
          <Quiet>No impedance was measured.</Quiet>
        )}
      </Curves>
      <Figures driver={driver} temperatureC={temperatureC} />
      <section aria-label="Where it comes from">
        <h3>Where it comes from</h3>
        <p>{toldSource('Response', response)}</p>
        <p>{toldSource('Impedance', impedance)}</p>
        {response && (
          <p>
            Microphone {formatQuantity(response.microphone.distanceMm, 'distance')} away{' '}
            {response.microphone.placement === 'own-axis'
              ? 'on the driver’s axis'
              : 'on the design axis'}
            , {formatQuantity(response.driveVolts, 'volt')} at the terminals.
          </p>
        )}
        {driver.offAxisIds.length > 0 && (
          <p>{driver.offAxisIds.length} responses were measured off its axis.</p>
        )}
      </section>
    </PrintSheet>
  );
}

function CurveOf({
  measurement,
  title,
}: {
  readonly measurement: Measurement;
  readonly title: string;
}) {
  const desk = useDesk();
  const isLoaded = useDeskState((state) => state.loaded.has(measurement.id));
  const examination = useExamination(measurement);
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const isResponse = measurement.kind === 'response';
  const samples = isResponse
    ? examination?.conditioned.samples
    : isLoaded
      ? desk.samples(measurement.id)
      : undefined;
  const shown = useMemo(() => samples && thinnedForDisplay(samples), [samples]);
  if (!shown) return <Quiet>Loading the numbers …</Quiet>;
  return (
    <FrequencyChart
      title={title}
      frequencyHz={shown.frequencyHz}
      curves={[
        { id: 'used', label: '', values: shown.magnitude, colour: 'var(--ink)', width: 1.6 },
      ]}
      marks={(isResponse && examination ? examination.conditioned.marks : []).map(
        ({ fromHz, toHz, reason }) => ({ fromHz, toHz, label: reason }),
      )}
      {...(isResponse ? levelScale : ohmScale)(shown.magnitude)}
      unit={isResponse ? 'dB' : 'Ω'}
      cursorHz={cursorHz}
      onCursor={setCursorHz}
    />
  );
}

function Figures({
  driver: { sheet },
  temperatureC,
}: {
  readonly driver: Driver;
  readonly temperatureC: number;
}) {
  const derived = sheetFigures(sheet, temperatureC);
  const rows: readonly (readonly [string, string, number | null, string])[] = [
    ['fs', 'resonance', sheet.fsHz, 'Hz'],
    ['Qms', 'mechanical Q', sheet.qms, ''],
    ['Qes', 'electrical Q', sheet.qes, ''],
    ['Qts', 'total Q', derived.qts, ''],
    ['Vas', 'equivalent volume', derived.vasLitres, 'l'],
    ['Re', 'DC resistance', sheet.reOhm, 'Ω'],
    ['Sd', 'cone area', sheet.sdCm2, 'cm²'],
    ['Mms', 'moving mass', derived.mmsG, 'g'],
    ['Cms', 'compliance', derived.cmsMmPerN, 'mm/N'],
    ['Bl', 'force factor', derived.blTm, 'T·m'],
    ['Xmax', 'excursion to each side', sheet.xmaxMm, 'mm'],
    ['Xmech', 'mechanical limit to each side', sheet.mechanicalMm, 'mm'],
    [
      'P',
      `rated power${sheet.ratedAs === null ? '' : `, ${ratingKinds[sheet.ratedAs]}`}`,
      sheet.ratedWatts,
      'W',
    ],
    ['η₀', 'reference efficiency', derived.efficiency && 100 * derived.efficiency, '%'],
    ['Lp', '2.83 V, 1 m, half space', derived.sensitivityDb, 'dB'],
    ['ka = 1', 'radiates nearly alike over the front up to', derived.evenUpToHz, 'Hz'],
  ];
  const known = rows.filter(([, , value]) => value !== null);
  if (known.length === 0)
    return (
      <Quiet>
        No parameters yet: fit them from the impedance, or write the data sheet’s on the Brief.
      </Quiet>
    );
  return (
    <Table aria-label="Figures of the driver">
      <tbody>
        {known.map(([symbol, what, value, unit]) => (
          <tr key={what}>
            <th scope="row">{symbol}</th>
            <td>{what}</td>
            <td>
              {formatNumber(value!, 3)} {unit}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

const Head = styled.div`
  display: flex;
  align-items: end;
  justify-content: space-between;
  gap: 0.8rem;
`;

const Curves = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.6rem;
`;

const Table = styled.table`
  ${tableLook}
`;
