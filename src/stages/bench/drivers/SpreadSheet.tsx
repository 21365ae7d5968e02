'use client';
import { useState } from 'react';
import styled from 'styled-components';
import type { Measurement } from '@/core/document/schema';
import { meanMeasurement } from '@/core/formats/meanMeasurement';
import type { Spread } from '@/core/measurement/spread';
import { ProblemError } from '@/core/problem';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button, PrimaryButton } from '@/ui/Button';
import type { Curve } from '@/ui/chart/curve';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import { Choice } from '@/ui/fields/Choice';
import { Note, Quiet } from '@/ui/sheets';
import { Tick } from '@/ui/fields/Tick';
import { curveStyle } from '@/ui/theme';

interface Compared {
  readonly of: readonly Measurement[];
  readonly spread: Spread;
}

/** Samples of the same driver: their mean, where they differ, and whether they are a pair. */
export function SpreadSheet({ onShow }: { readonly onShow: (id: string) => void }) {
  const desk = useDesk();
  const measurements = useDeskState((state) => state.design.measurements);
  const [kind, setKind] = useState<Measurement['kind']>('response');
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [compared, setCompared] = useState<Compared | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const offered = measurements.filter((m) => m.kind === kind);
  const wanted = offered.filter(({ id }) => chosen.has(id));
  const compare = async () => {
    setTrouble(null);
    try {
      const spread = await desk.workbench().spread(
        desk.store.getState().design,
        wanted.map((m) => m.id),
      );
      setCompared({ of: wanted, spread });
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setTrouble(error.message);
    }
  };
  const keep = ({ of, spread: { mean } }: Compared) => {
    const measurement = meanMeasurement(of, mean, new Date().toISOString());
    desk.addMeasurements([measurement], new Map([[measurement.id, mean]]));
    onShow(measurement.id);
  };
  return (
    <>
      <h3>Samples of the same driver</h3>
      <Choice
        label="Compare"
        options={[
          { id: 'response', text: 'responses' },
          { id: 'impedance', text: 'impedances' },
        ]}
        value={kind}
        onChange={(next) => {
          setKind(next);
          setCompared(null);
        }}
      />
      <Ticks aria-label="Measurements to compare">
        {offered.map(({ id, name }) => (
          <li key={id}>
            <Tick
              isSelected={chosen.has(id)}
              onChange={(isOn) => {
                const next = new Set(chosen);
                if (isOn) next.add(id);
                else next.delete(id);
                setChosen(next);
              }}
            >
              {name}
            </Tick>
          </li>
        ))}
      </Ticks>
      {offered.length < 2 && <Quiet>Two or more {kind}s are needed.</Quiet>}
      <div>
        <PrimaryButton isDisabled={wanted.length < 2} onPress={() => void compare()}>
          Compare them
        </PrimaryButton>
      </div>
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
      {compared && (
        <>
          <Note $kind={compared.spread.isMatched ? 'plain' : 'doubt'}>
            {compared.spread.isMatched ? 'A pair: ' : 'Not a pair: '}
            they differ by at most {formatFixed(compared.spread.widest.db, 2)} dB, at{' '}
            {formatQuantity(Number(compared.spread.widest.atHz.toPrecision(3)), 'hertz')};{' '}
            {formatFixed(compared.spread.rmsDb, 2)} dB rms from their mean between{' '}
            {formatQuantity(Number(compared.spread.band.fromHz.toPrecision(2)), 'hertz')} and{' '}
            {formatQuantity(Number(compared.spread.band.toHz.toPrecision(2)), 'hertz')}. A pair
            stays within {kind === 'response' ? '1 dB' : '5 %'}.
          </Note>
          <FrequencyChart
            title="Each against the mean"
            {...curvesOf(compared)}
            bottom={-12.5}
            top={12.5}
            unit="dB"
            cursorHz={cursorHz}
            onCursor={setCursorHz}
          />
          <div>
            <Button onPress={() => keep(compared)}>Keep the mean as a measurement</Button>
          </div>
        </>
      )}
    </>
  );
}

function curvesOf({ of, spread }: Compared): {
  frequencyHz: Float64Array;
  curves: readonly Curve[];
} {
  const { frequencyHz } = spread.mean;
  return {
    frequencyHz,
    curves: spread.deviationsDb.map((values, k) => ({
      id: of[k].id,
      label: of[k].name,
      values,
      ...curveStyle(k),
    })),
  };
}

const Ticks = styled.ul`
  display: grid;
  gap: 0.3rem;
  max-height: 12rem;
  overflow: auto;
  padding: 3px;
`;
