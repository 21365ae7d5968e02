'use client';
import { useState } from 'react';
import styled from 'styled-components';
import type { Driver } from '@/core/document/schema';
import { ProblemError } from '@/core/problem';
import { depthForPath, pathDifferenceMm } from '@/core/radiation/path';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button, PrimaryButton } from '@/ui/Button';
import { QuantityBlank } from '@/ui/fields/Blank';
import { Choice } from '@/ui/fields/Choice';
import { Note, Quiet } from '@/ui/sheets';
import { Landscape } from './Landscape';
import { findDepth, tailsFor, type DepthAnswer, type Slopes } from './depth';

/**
 * How much deeper one driver lies than another, from three measurements with nothing moved. Where
 * the timing of the responses already tells it, both answers are side by side, and the position is
 * not counted a second time.
 */
export function DepthSheet() {
  const desk = useDesk();
  const drivers = useDeskState((state) => state.design.drivers);
  const measurements = useDeskState((state) => state.design.measurements);
  const [firstId, setFirstId] = useState<string | null>(null);
  const [secondId, setSecondId] = useState<string | null>(null);
  const [sumId, setSumId] = useState<string | null>(null);
  const [slopes, setSlopes] = useState<Readonly<Record<string, Slopes>>>({});
  const [answer, setAnswer] = useState<DepthAnswer | null>(null);
  const found = answer?.found;
  const timing = answer?.timingMm ?? null;
  const [trouble, setTrouble] = useState<string | null>(null);
  const usable = drivers.filter(({ responseId }) => responseId !== null);
  const first = usable.find(({ id }) => id === firstId) ?? usable.at(-2);
  const second = usable.find(({ id }) => id === secondId) ?? usable.at(-1);
  const responses = measurements.filter(
    ({ kind, id }) => kind === 'response' && id !== first?.responseId && id !== second?.responseId,
  );
  const sum =
    responses.find(({ id }) => id === sumId) ??
    responses.find(({ name }) => /both|and|together|parallel|sum/i.test(name));
  if (usable.length < 2 || !first || !second)
    return (
      <Quiet>
        Two drivers with responses are needed, and a response of both playing in parallel, measured
        with nothing moved. The practice rig can make all three.
      </Quiet>
    );
  const slopesOf = (driver: Driver) => slopes[driver.id] ?? tailsFor(desk, driver);
  const slopeBlank = (driver: Driver, end: 'below' | 'above') => (
    <QuantityBlank
      label={`slope of ${driver.name} ${end} its data`}
      value={slopesOf(driver)[end]}
      dimension="slope"
      min={-60}
      max={60}
      stepBy={6}
      onChange={(slope) =>
        slope !== null &&
        setSlopes({ ...slopes, [driver.id]: { ...slopesOf(driver), [end]: slope, isStated: true } })
      }
    />
  );
  const run = async () => {
    if (!sum) return;
    setTrouble(null);
    setAnswer(null);
    try {
      setAnswer(await findDepth(desk, { first, second, sumId: sum.id, slopesOf }));
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setTrouble(error.message);
    }
  };
  const isInData = [first, second].every(
    ({ responseId }) => measurements.find(({ id }) => id === responseId)?.microphone.commonTiming,
  );
  const microphone = measurements.find(({ id }) => id === second.responseId)!.microphone;
  const takeOver = (offsetMm: number) => {
    const zMm = depthForPath(second.position, first.position, microphone, offsetMm);
    if (zMm !== null)
      desk.change(
        {
          type: 'editDriver',
          id: second.id,
          set: {
            position: { ...second.position, zMm: Number(zMm.toFixed(1)) },
            // What was measured is where it is.
            measuredAt: null,
          },
        },
        `depth of ${second.name}`,
      );
  };
  const presentMm = pathDifferenceMm(first.position, second.position, microphone);
  return (
    <>
      <h3>Depth from three measurements</h3>
      <Pair>
        <Choice
          label="First driver alone"
          options={usable.map(({ id, name }) => ({ id, text: name }))}
          value={first.id}
          onChange={setFirstId}
        />
        <Choice
          label="Second driver alone"
          options={usable.map(({ id, name }) => ({ id, text: name }))}
          value={second.id}
          onChange={setSecondId}
        />
      </Pair>
      <Choice
        label="Both in parallel, nothing moved"
        placeholder="choose a response …"
        options={responses.map(({ id, name }) => ({ id, text: name }))}
        value={sum?.id ?? null}
        onChange={setSumId}
      />
      <p>
        Beyond its data the level of {first.name} goes on with {slopeBlank(first, 'below')} and{' '}
        {slopeBlank(first, 'above')}, that of {second.name} with {slopeBlank(second, 'below')} and{' '}
        {slopeBlank(second, 'above')}. Guessed slopes widen the answer: state them if you know the
        drivers.
      </p>
      <div>
        <PrimaryButton isDisabled={!sum} onPress={() => void run()}>
          Find the offset
        </PrimaryButton>
      </div>
      <div aria-live="polite" style={{ display: 'grid', gap: '0.5rem' }}>
        {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
        {found && (
          <>
            <Note $kind={found.isAmbiguous ? 'doubt' : 'plain'}>
              {second.name} lies{' '}
              <strong>
                {formatFixed(Math.abs(found.offsetMm), 1)} mm ±{' '}
                {Number(found.standardErrorMm.toPrecision(2))}
              </strong>{' '}
              {found.offsetMm >= 0 ? 'farther from' : 'nearer to'} the microphone than {first.name}.
              The sum is met within {formatFixed(found.rmsDb, 2)} dB rms from{' '}
              {formatQuantity(Math.round(found.fromHz), 'hertz')} to{' '}
              {formatQuantity(Math.round(found.toHz), 'hertz')}.
              {found.isAmbiguous &&
                ` Ambiguous: ${formatFixed(found.alternatives[0].offsetMm, 0)} mm fits nearly as well (${formatFixed(found.alternatives[0].rmsDb, 2)} dB). Measure wider, or use a ruler to choose.`}
              {found.isReversed && ' One of them was connected the other way round.'}
            </Note>
            <Landscape found={found} />
            {isInData && (
              <Note $kind="doubt">
                Both responses hold their flight times (common timing), so this path is in the data
                already. A position is not added to it again; it still places the driver for other
                directions.
              </Note>
            )}
            <Quiet>
              It is a difference of paths to the microphone: with the drivers at the heights on the
              left, the position follows from it.
            </Quiet>
            <div>
              <Button onPress={() => takeOver(found.offsetMm)}>
                Take it over into the position of {second.name}
              </Button>
            </div>
          </>
        )}
        <Table aria-label="Depth by other means">
          <tbody>
            <tr>
              <th scope="row">From the positions on the left</th>
              <td>{formatFixed(presentMm, 1)} mm</td>
              <td>{found && difference(presentMm - found.offsetMm)}</td>
            </tr>
            <tr>
              <th scope="row">From the common timing</th>
              <td>
                {timing === null
                  ? answer
                    ? 'no common timing'
                    : 'with the offset'
                  : `${formatFixed(timing, 1)} mm`}
              </td>
              <td>{found && timing !== null && difference(timing - found.offsetMm)}</td>
            </tr>
          </tbody>
        </Table>
      </div>
    </>
  );
}

const difference = (mm: number) => `${mm >= 0 ? '+' : ''}${formatFixed(mm, 1)} mm against it`;

const Pair = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 0.6rem;
`;

const Table = styled.table`
  font-size: 0.8125rem;
  border-collapse: collapse;
  th,
  td {
    text-align: left;
    font-weight: 400;
    padding: 0.2rem 1rem 0.2rem 0;
    border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
  }
`;
