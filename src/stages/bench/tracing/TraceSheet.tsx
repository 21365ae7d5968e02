'use client';
import { useState } from 'react';
import { Dialog, Heading, Modal } from 'react-aria-components';
import styled from 'styled-components';
import { madeMeasurement } from '@/core/formats/madeMeasurement';
import { ProblemError, sentence } from '@/core/problem';
import { cutText } from '@/core/text';
import { tracedTable } from '@/core/tracing/tracedTable';
import { Veil } from '@/desk/ActionFinder';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button, PrimaryButton } from '@/ui/Button';
import { ChoiceBlank, QuantityBlank, TextBlank } from '@/ui/fields/Blank';
import { Tick } from '@/ui/fields/Tick';
import { Choices, Note, Quiet, Sentence } from '@/ui/sheets';
import type { SheetPicture } from './readPicture';
import { TracePicture } from './TracePicture';
import { traceModes, useTrace, type MarkId, type TraceMode } from './useTrace';

interface TraceSheetProps {
  readonly picture: SheetPicture;
  readonly onClose: () => void;
  readonly onRead: (measurementId: string) => void;
}

/** Takes a curve out of a picture of a data sheet. */
export function TraceSheet({ picture, onClose, onRead }: TraceSheetProps) {
  return (
    <Veil isOpen onOpenChange={(isOpen) => !isOpen && onClose()}>
      <Modal>
        <Sheet>
          <Heading slot="title">Trace a curve from {picture.name}</Heading>
          <Steps {...{ picture, onClose, onRead }} />
        </Sheet>
      </Modal>
    </Veil>
  );
}

const nobody = 'nobody';

function Steps({ picture, onClose, onRead }: TraceSheetProps) {
  const desk = useDesk();
  const drivers = useDeskState((state) => state.design.drivers);
  const [kind, setKind] = useState<'response' | 'impedance'>('response');
  const trace = useTrace(picture, kind);
  const [driverId, setDriverId] = useState<string>(nobody);
  const [name, setName] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const shownName = name ?? cutText(`${picture.name.replace(/\.[^.]*$/, '')} ${kind}, traced`, 80);
  const take = () => {
    setTrouble(null);
    try {
      const table = tracedTable(trace.axes!, trace.points, kind, picture.name);
      const told = `traced from a picture: ${trace.points.length} points, marks at ${trace.values.x1} and ${trace.values.x2} Hz, ${trace.values.y1} and ${trace.values.y2} ${kind === 'response' ? 'dB' : 'ohm'}`;
      const made = madeMeasurement(table, shownName, picture, told, new Date().toISOString());
      const { measurement, numbers } = made;
      desk.addMeasurements([measurement], numbers, { label: `trace ${measurement.name}` });
      if (driverId !== nobody)
        desk.change(
          {
            type: 'editDriver',
            id: driverId,
            set: { [kind === 'response' ? 'responseId' : 'impedanceId']: measurement.id },
          },
          `traced ${kind}`,
        );
      onRead(measurement.id);
      onClose();
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setTrouble(sentence(error.problem));
    }
  };
  const mark = (id: MarkId, label: string) => (
    <QuantityBlank
      label={label}
      dimension={id.startsWith('x') ? 'hertz' : kind === 'response' ? 'decibel' : 'ohm'}
      stepBy={1}
      min={id.startsWith('x') ? 1 : kind === 'response' ? -100 : 0.01}
      max={100_000}
      value={trace.values[id]}
      onChange={(value) => value !== null && trace.setValue(id, value)}
    />
  );
  return (
    <Layout>
      <TracePicture picture={picture} trace={trace} />
      <Side data-entries>
        <Sentence>
          The curve is{' '}
          <ChoiceBlank
            label="Kind of curve"
            isAlwaysSaid
            options={[
              { id: 'response', text: 'a response' },
              { id: 'impedance', text: 'an impedance' },
            ]}
            value={kind}
            onChange={(next) => {
              if (next === null) return;
              setKind(next);
              trace.setLogY(next === 'impedance');
            }}
          />
          . A click on the picture does:
        </Sentence>
        <Modes role="group" aria-label="What a click does">
          {traceModes.map(({ id, text }) => (
            <Button key={id} aria-pressed={trace.mode === id} onPress={() => trace.setMode(id)}>
              {text}
              {isSet(trace.marks, id) ? ' ✓' : ''}
            </Button>
          ))}
        </Modes>
        <Sentence>
          The marks are at {mark('x1', 'Value of the low frequency mark')} and{' '}
          {mark('x2', 'Value of the high frequency mark')}, and at{' '}
          {mark('y1', 'Value of the low level mark')} and{' '}
          {mark('y2', 'Value of the high level mark')}.
        </Sentence>
        <Tick isSelected={trace.isLogX} onChange={trace.setLogX}>
          The frequency axis is logarithmic
        </Tick>
        <Tick isSelected={trace.isLogY} onChange={trace.setLogY}>
          The other axis is logarithmic
        </Tick>
        <Sentence>
          A colour counts as the curve’s within{' '}
          <QuantityBlank
            label="How far a colour may be off"
            dimension="number"
            stepBy={10}
            min={5}
            max={400}
            value={trace.tolerance}
            onChange={(value) => value !== null && trace.setTolerance(value)}
          />{' '}
          of 441.
        </Sentence>
        <Quiet role="status">
          {trace.points.length === 0
            ? 'No points yet.'
            : `${trace.points.length} points of the curve.`}
        </Quiet>
        <Sentence>
          Keep it as{' '}
          <TextBlank label="Name of the traced curve" value={shownName} onChange={setName} /> and
          give it to{' '}
          <ChoiceBlank
            label="Driver of the traced curve"
            isAlwaysSaid
            options={[
              { id: nobody, text: 'no driver yet' },
              ...drivers.map((driver) => ({ id: driver.id, text: driver.name })),
            ]}
            value={driverId}
            onChange={(id) => id !== null && setDriverId(id)}
          />
          .
        </Sentence>
        {(trace.trouble ?? trouble) !== null && (
          <Note $kind="alarm">{trace.trouble ?? trouble}</Note>
        )}
        <Choices>
          <PrimaryButton isDisabled={!trace.axes || trace.points.length < 2} onPress={take}>
            Read this curve
          </PrimaryButton>
          <Button onPress={trace.clear} isDisabled={trace.points.length === 0}>
            Clear the points
          </Button>
          <Button onPress={onClose}>Cancel</Button>
        </Choices>
        <Quiet>
          A response counts as measured in a wall: baffle step and edges are added once the driver
          is on a front.
        </Quiet>
      </Side>
    </Layout>
  );
}

const isSet = (marks: Readonly<Record<MarkId, unknown>>, mode: TraceMode): boolean =>
  mode in marks && marks[mode as MarkId] !== null;

const Sheet = styled(Dialog)`
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 0.6rem;
  width: min(1180px, 96vw);
  height: min(680px, calc(100vh - 120px));
  padding: 1rem;
  background: ${({ theme }) => theme.colour.paper};
  outline: none;
  border-radius: ${({ theme }) => theme.radius};
`;

const Layout = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 350px;
  gap: 1rem;
  min-height: 0;
`;

const Side = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  align-content: start;
  gap: 0.55rem;
  overflow: auto;
`;

const Modes = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.35rem;
  button {
    padding: 0.3em 0.5em;
    font-size: 0.8125rem;
  }
  button[aria-pressed='true'] {
    border-color: ${({ theme }) => theme.colour.accent};
    background: ${({ theme }) => theme.colour.accentWash};
    font-weight: 600;
  }
`;
