'use client';
import { useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import styled from 'styled-components';
import { messageOf } from '@/core/problem';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import type { BuiltBox } from '@/core/lows/builtBox';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { useDesk } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { QuantityBlank } from '@/ui/fields/Blank';
import { Choice } from '@/ui/fields/Choice';
import { Note, Quiet, Sentence, tableLook } from '@/ui/sheets';
import type { BoxEdits } from '@/stages/box/useBoxEdits';
import type { BoxClient } from '@/workers/boxClient';
import { importFile } from '@/workers/filesClient';

interface BuiltPaneProps {
  readonly design: Design;
  readonly box: Box;
  readonly client: BoxClient | null;
  readonly edits: BoxEdits;
}

interface Shown {
  readonly boxId: string;
  readonly name: string;
  readonly built: BuiltBox | null;
  readonly trouble: string | null;
}

/** Tighter than this tells no more. */
const mostToldQl = 200;

const withError = (value: number, share: number, decimals: number, unit: string) =>
  `${formatFixed(value, decimals)} ${unit} ± ${formatFixed(value * share, decimals)}`;

/** The built box by its impedance: what it became, why, and the port that mends it. */
export function BuiltPane({ design, box, client, edits }: BuiltPaneProps) {
  const desk = useDesk();
  const [shown, setShown] = useState<Shown | null>(null);
  const [cutMm, setCut] = useState<number | null>(null);
  const portMm = cutMm ?? box.port.lengthMm;
  const impedances = design.measurements.filter(({ kind }) => kind === 'impedance');
  const look = async (name: string, id: string) => {
    const samples = desk.samples(id);
    if (!client || !samples) return;
    const of = { boxId: box.id, name };
    try {
      const built = await client.built(desk.store.getState().design, box, portMm, samples);
      setShown({ ...of, built, trouble: null });
    } catch (error) {
      const trouble = messageOf(error);
      setShown({ ...of, built: null, trouble });
    }
  };
  const take = async (file: File) => {
    try {
      const { measurement, numbers } = await importFile(file, null, new AbortController().signal);
      const imported = { ...measurement, kind: 'impedance' as const };
      if (!desk.store.getState().design.measurements.some(({ id }) => id === imported.id))
        desk.addMeasurements([imported], numbers);
      await look(imported.name, imported.id);
    } catch (error) {
      const trouble = messageOf(error);
      setShown({ boxId: box.id, name: file.name, built: null, trouble });
    }
  };
  const result = shown?.boxId === box.id ? shown : null;
  return (
    <Layout>
      <p>
        Measure the impedance of the driver in the finished box, from 10 Hz, at its own terminals.
        From it follow volume, tuning and leakage as they became.
      </p>
      {box.kind === 'vented' && (
        <Sentence>
          Its port was cut to{' '}
          <QuantityBlank
            label="Length of the built port"
            dimension="millimetre"
            min={0}
            max={3000}
            stepBy={1}
            value={Number(portMm.toFixed(1))}
            onChange={setCut}
          />
          .
        </Sentence>
      )}
      <FileTrigger onSelect={(files) => files?.[0] && void take(files[0])}>
        <Button>Import its impedance</Button>
      </FileTrigger>
      {impedances.length > 0 && (
        <Choice
          label="Or one that is here"
          options={impedances.map(({ id, name }) => ({ id, text: name }))}
          value={null}
          onChange={(id) => {
            const measurement = impedances.find((one) => one.id === id);
            if (measurement) void look(measurement.name, id);
          }}
        />
      )}
      {result?.trouble && <Note $kind="alarm">{result.trouble}</Note>}
      {result?.built && (
        <Result name={result.name} found={result.built} {...{ box, edits, portMm }} />
      )}
      <Quiet as="p">
        The amplifier’s terminals carry dangerous voltage at high power: measure at a low level, and
        change leads only while it is off.
      </Quiet>
    </Layout>
  );
}

function Result({
  name,
  found,
  box,
  portMm,
  edits,
}: {
  readonly name: string;
  readonly found: BuiltBox;
  readonly box: Box;
  readonly portMm: number;
  readonly edits: BoxEdits;
}) {
  const { built, plannedLitres, plannedHz, differences, correctedMm, isOfThis } = found;
  const { volumeM3, tunedHz, ql, compliance } = built;
  const corrected = correctedMm === null ? null : Number(correctedMm.toFixed(0));
  const misfit = formatFixed(100 * built.misfit, 1);
  if (!isOfThis)
    return (
      <section aria-label="The built box">
        <Note $kind="doubt">
          Model and measurement of {name} differ by {misfit} %: nothing can be told of the box from
          that. Is this the impedance of this driver in this box, and is the driver what its sheet
          says? Measure it free once, and give it those figures.
        </Note>
      </section>
    );
  return (
    <section aria-label="The built box">
      <Table>
        <caption>{name}</caption>
        <thead>
          <tr>
            <td />
            <th>planned</th>
            <th>built</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">acts as</th>
            <td>{formatFixed(plannedLitres, 1)} l</td>
            <td>{withError(1000 * volumeM3.value, volumeM3.standardError, 1, 'l')}</td>
          </tr>
          {tunedHz && plannedHz !== null && (
            <tr>
              <th scope="row">tuned to</th>
              <td>{formatFixed(plannedHz, 1)} Hz</td>
              <td>{withError(tunedHz.value, tunedHz.standardError, 1, 'Hz')}</td>
            </tr>
          )}
          <tr>
            <th scope="row">leakage QL</th>
            <td>{box.ql === null ? 'none' : formatNumber(box.ql)}</td>
            <td>{ql.value > mostToldQl ? `over ${mostToldQl}` : formatFixed(ql.value, 1)}</td>
          </tr>
          <tr>
            <th scope="row">driver’s compliance</th>
            <td>as its figures</td>
            <td>
              × {formatFixed(compliance.value, 2)} ±{' '}
              {formatFixed(compliance.value * compliance.standardError, 2)}
            </td>
          </tr>
        </tbody>
      </Table>
      <Quiet as="p">
        Model and measurement differ by {misfit} %. The driver’s mass and motor are those of its
        figures.
        {plannedHz === null &&
          ' A sealed box tells box and suspension only together: what is usual of both divides them.'}
      </Quiet>
      {differences.map(({ kind, told }) => (
        <Note key={kind} $kind="doubt">
          {told}
        </Note>
      ))}
      {differences.length === 0 && <Note $kind="plain">It became what was planned.</Note>}
      {corrected !== null && plannedHz !== null && (
        <Note $kind="plain" role="status">
          For {formatFixed(plannedHz, 1)} Hz the port is to be{' '}
          <strong>{formatNumber(corrected)} mm</strong> long, in the place of{' '}
          {formatNumber(Number(portMm.toFixed(0)))} mm: what volume and ends turned out to be is in
          it.
        </Note>
      )}
      {plannedHz !== null && correctedMm === null && (
        <Note $kind="doubt">
          No port of this width tunes this box so high: take a wider one, or reduce the volume.
        </Note>
      )}
      <Button
        onPress={() =>
          edits.set(
            box,
            {
              ql: Number.isFinite(ql.value) ? Number(Math.min(1000, ql.value).toFixed(1)) : null,
            },
            'leakage as it was measured',
          )
        }
      >
        Take its leakage into the plan
      </Button>
    </section>
  );
}

const Table = styled.table`
  ${tableLook}
  caption {
    text-align: left;
    font-weight: 600;
  }
`;

const Layout = styled.div`
  display: grid;
  gap: 0.7rem;
  justify-items: start;
  p {
    font-size: 0.8125rem;
  }
  section {
    display: grid;
    gap: 0.5rem;
    width: 100%;
    justify-items: start;
    > div {
      width: 100%;
    }
  }
`;
