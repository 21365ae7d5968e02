'use client';
import { measuredInBox } from '@/core/driver/inBox';
import { useState } from 'react';
import styled from 'styled-components';
import type { Driver } from '@/core/document/schema';
import type { DriverParameters } from '@/core/driver/thieleSmall';
import { ProblemError } from '@/core/problem';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Button, PrimaryButton } from '@/ui/Button';
import type { Curve } from '@/ui/chart/curve';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import { ohmScale } from '@/ui/chart/window';
import { Choice } from '@/ui/fields/Choice';
import { Note, Quiet, tableLook, Sentence } from '@/ui/sheets';
import { curveStyle } from '@/ui/theme';
import { fitParameters, sheetOf, type FittedDriver } from './fitParameters';

/**
 * Thiele–Small and voice-coil parameters of a driver, fitted to its impedances and held against its
 * data sheet.
 */
export function ParameterSheet() {
  const drivers = useDeskState((state) => state.design.drivers);
  const [chosenId, setChosenId] = useState<string | null>(null);
  const usable = drivers.filter(({ impedanceId }) => impedanceId !== null);
  const driver = usable.find(({ id }) => id === chosenId) ?? usable.at(0);
  if (!driver)
    return (
      <Quiet>
        Give an impedance with phase to a driver first: in free air for its parameters. A second one
        with a mass on the cone, or on a closed box of known volume, also tells Vas, the moving mass
        and Bl.
      </Quiet>
    );
  return (
    <>
      <Choice
        label="Driver"
        options={usable.map(({ id, name }) => ({ id, text: name }))}
        value={driver.id}
        onChange={setChosenId}
      />
      <Fitting key={driver.id} driver={driver} />
    </>
  );
}

function Fitting({ driver }: { readonly driver: Driver }) {
  const desk = useDesk();
  const measurements = useDeskState((state) => state.design.measurements);
  const [fitted, setFitted] = useState<FittedDriver | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const { id, name, fitting, sheet, impedanceId } = driver;
  const others = measurements.filter((m) => m.kind === 'impedance' && m.id !== impedanceId);
  const set = (change: Partial<Driver['fitting']>) =>
    desk.change(
      { type: 'editDriver', id, set: { fitting: { ...fitting, ...change } } },
      `fitting of ${name}`,
      `fitting ${id}`,
    );
  const run = async () => {
    setTrouble(null);
    try {
      setFitted(await fitParameters(desk, driver));
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setFitted(null);
      setTrouble(error.message);
    }
  };
  return (
    <>
      <Sentence>
        {name} has a cone of{' '}
        <QuantityBlank
          label="effective area"
          value={sheet.sdCm2}
          dimension="squareCentimetre"
          min={0.5}
          max={5000}
          stepBy={1}
          onChange={(sdCm2) =>
            desk.change({ type: 'setDriverSheet', id, set: { sdCm2 } }, `area of ${name}`)
          }
        />{' '}
        . Beside free air it was measured{' '}
        <ChoiceBlank
          label="second run"
          placeholder="no other way"
          options={[
            { id: 'added-mass', text: 'with a mass on the cone' },
            { id: 'known-box', text: 'on a closed box' },
          ]}
          value={fitting.second === 'none' ? null : fitting.second}
          onChange={(second) => set({ second: second ?? 'none' })}
        />
        {fitting.second === 'added-mass' && (
          <>
            {' '}
            of{' '}
            <QuantityBlank
              label="added mass"
              value={fitting.addedMassG}
              dimension="gram"
              min={0.001}
              max={10_000}
              stepBy={1}
              onChange={(addedMassG) => set({ addedMassG })}
            />
          </>
        )}
        {fitting.second === 'known-box' && (
          <>
            {' '}
            of{' '}
            <QuantityBlank
              label="volume of the box"
              value={fitting.boxLitres}
              dimension="litre"
              min={0.001}
              max={10_000}
              stepBy={1}
              onChange={(boxLitres) => set({ boxLitres })}
            />
          </>
        )}
        {fitting.second !== 'none' && (
          <>
            :{' '}
            <ChoiceBlank
              label="second impedance"
              placeholder="which impedance …"
              options={others.map((m) => ({ id: m.id, text: m.name }))}
              value={fitting.secondId}
              onChange={(secondId) => set({ secondId })}
            />
          </>
        )}
        . The leads add{' '}
        <QuantityBlank
          label="resistance of the leads"
          value={fitting.leadOhm}
          dimension="ohm"
          min={0}
          max={10}
          stepBy={0.01}
          onChange={(leadOhm) => set({ leadOhm: leadOhm ?? 0 })}
        />
        ; the coil has{' '}
        <QuantityBlank
          label="resistance of the coil"
          placeholder="what the fit finds"
          value={fitting.reOhm}
          dimension="ohm"
          min={0.1}
          max={1000}
          stepBy={0.01}
          onChange={(reOhm) => set({ reOhm })}
        />{' '}
        with direct current.
      </Sentence>
      <div>
        <PrimaryButton onPress={() => void run()}>Fit the parameters</PrimaryButton>
      </div>
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
      {fitted && <Result driver={driver} fitted={fitted} />}
    </>
  );
}

interface Row {
  readonly key: keyof DriverParameters;
  readonly name: string;
  readonly unit: string;
  readonly scale: number;
  readonly sheet: number | null;
}

function Result({ driver, fitted }: { readonly driver: Driver; readonly fitted: FittedDriver }) {
  const desk = useDesk();
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const { parameters, standardErrors, wholeErrors, misfit } = fitted.fit;
  const { sheet } = driver;
  const box = measuredInBox(parameters, sheet);
  const rows: Row[] = [
    { key: 'fsHz', name: 'fs', unit: 'Hz', scale: 1, sheet: sheet.fsHz },
    { key: 'qms', name: 'Qms', unit: '', scale: 1, sheet: sheet.qms },
    { key: 'qes', name: 'Qes', unit: '', scale: 1, sheet: sheet.qes },
    { key: 'qts', name: 'Qts', unit: '', scale: 1, sheet: null },
    { key: 'reOhm', name: 'Re', unit: 'Ω', scale: 1, sheet: sheet.reOhm },
    {
      key: 'leHenry',
      name: parameters.semiK === null ? 'Le' : 'Le at 1 kHz',
      unit: 'mH',
      scale: 1e3,
      sheet: null,
    },
    { key: 'le2Henry', name: 'L2', unit: 'mH', scale: 1e3, sheet: null },
    { key: 're2Ohm', name: 'R2', unit: 'Ω', scale: 1, sheet: null },
    { key: 'semiK', name: 'K', unit: 'Ω·sⁿ', scale: 1, sheet: null },
    { key: 'semiN', name: 'n', unit: '', scale: 1, sheet: null },
    { key: 'vasM3', name: 'Vas', unit: 'l', scale: 1e3, sheet: sheet.vasLitres },
    { key: 'mmsKg', name: 'Mms', unit: 'g', scale: 1e3, sheet: sheet.mmsG },
    { key: 'cmsMPerN', name: 'Cms', unit: 'mm/N', scale: 1e3, sheet: null },
    { key: 'blTm', name: 'Bl', unit: 'T·m', scale: 1, sheet: sheet.blTm },
  ];
  const { frequencyHz, measured, modelled } = fitted.curves;
  const curves: Curve[] = [
    { id: 'measured', label: 'measured', values: measured, colour: 'var(--ink)', width: 1.8 },
    { id: 'fitted', label: 'fitted', values: modelled, ...curveStyle(1) },
  ];
  return (
    <>
      <FrequencyChart
        title="Impedance, measured and fitted"
        frequencyHz={frequencyHz}
        curves={curves}
        {...ohmScale(measured)}
        unit="Ω"
        cursorHz={cursorHz}
        onCursor={setCursorHz}
        aside={`${(100 * misfit).toFixed(2)} % rms`}
      />
      <Table aria-label="Driver parameters">
        <thead>
          <tr>
            <th scope="col">Parameter</th>
            <th scope="col">fitted</th>
            <th scope="col">± by noise</th>
            <th scope="col">± in all</th>
            <th scope="col">data sheet</th>
            <th scope="col">difference</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ key, name, unit, scale, sheet: said }) => {
            const value = parameters[key];
            const error = standardErrors[key];
            const all = wholeErrors[key];
            if (value === null) return null;
            const shown = value * scale;
            return (
              <tr key={key}>
                <th scope="row">{name}</th>
                <td>
                  {shown.toPrecision(4)} {unit}
                </td>
                <td>{errorText(error, scale)}</td>
                <td>{all === error ? '' : errorText(all, scale)}</td>
                <td>{said ?? '–'}</td>
                <td>{said === null ? '' : inPercent(shown / said)}</td>
              </tr>
            );
          })}
        </tbody>
      </Table>
      {box && (
        <Note $kind="doubt">
          fs and Q are {formatFixed(box.ratio, 2)} times those of the data sheet, both alike: it was
          measured in a closed box
          {box.litres !== null &&
            ` of about ${formatQuantity(Number(box.litres.toPrecision(2)), 'litre')}`}
          . The data sheet is not wrong, and these figures should not take its place: the box would
          count twice.
        </Note>
      )}
      <Quiet>
        It radiates nearly alike over the front up to about{' '}
        {formatQuantity(Math.round(fitted.evenUpToHz / 10) * 10, 'hertz')} (ka = 1); where its cone
        breaks up is another matter. Measured in a box, fs and Q are those of the driver in that
        box. Power and excursion limits are the maker’s: they are in the data sheet on the Brief.
        Errors are one standard error each; the second also holds what is usual for area (2 % in
        diameter, Vas goes with its fourth power), weighed mass (1 %), volume of the box and air
        pressure (2 % each; at 1500 m Vas is told 17 % too large).
      </Quiet>
      <div>
        <Button
          onPress={() =>
            desk.change(
              { type: 'setDriverSheet', id: driver.id, set: sheetOf(parameters) },
              `fitted parameters of ${driver.name}`,
            )
          }
        >
          Put the fitted figures in the place of the data sheet’s
        </Button>
      </div>
    </>
  );
}

/** One standard error, with two digits. */
const errorText = (error: number | null, scale: number): string =>
  error !== null && Number.isFinite(error) ? (error * scale).toPrecision(2) : '–';

/** How far a ratio is from one, with its sign: +1.2 %. */
function inPercent(ratio: number): string {
  const text = formatFixed(100 * (ratio - 1), 1);
  return /[1-9]/.test(text) ? `${ratio > 1 ? '+' : ''}${text} %` : ' 0.0 %';
}

const Table = styled.table`
  ${tableLook}
  font-family: ${({ theme }) => theme.font.figures};
`;
