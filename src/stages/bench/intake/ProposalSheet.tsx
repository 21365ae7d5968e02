'use client';
import { PlaneChoice } from '@/stages/bench/PlaneChoice';

import { Dialog, Heading, Modal } from 'react-aria-components';
import styled from 'styled-components';
import type { Measurement } from '@/core/document/schema';
import type { ImportedWithPhase } from '@/core/formats/importMeasurement';
import { membersInWords, slotsOf } from '@/core/formats/proposal';
import { thinnedForDisplay } from '@/core/measurement/display';
import type { Samples } from '@/core/measurement/samples';
import type { TimingPattern } from '@/core/measurement/timingPattern';
import { formatFixed } from '@/core/units/quantity';
import { Veil } from '@/desk/ActionFinder';
import { QuantityBlank } from '@/ui/fields/Blank';
import { Button, PrimaryButton } from '@/ui/Button';
import { linePath } from '@/ui/chart/curve';
import { Choice } from '@/ui/fields/Choice';
import { NameField } from '@/ui/fields/NameField';
import { Note, Quiet, Sentence, tableLook } from '@/ui/sheets';
import { Tick } from '@/ui/fields/Tick';
import type { ReadFiles } from './readFiles';
import { useProposal, type ProposalRow } from './useProposal';

const nobody = 'nobody';

interface ProposalSheetProps {
  readonly read: ReadFiles;
  readonly onDone: () => void;
}

/**
 * Many files at once: whose each seems to be, to be corrected in one table and taken over as one
 * step.
 */
export function ProposalSheet({ read, onDone }: ProposalSheetProps) {
  const proposal = useProposal(read, onDone);
  const { rows, drivers, timing, takeOver } = proposal;
  return (
    <Veil isOpen onOpenChange={(isOpen) => !isOpen && onDone()}>
      <Modal>
        <Sheet>
          <Heading slot="title">{rows.length} measurements were read</Heading>
          <Drivers proposal={proposal} />
          <Timing timing={timing} proposal={proposal} />
          <Scroll>
            <Table aria-label="Measurements that were read">
              <thead>
                <tr>
                  <th scope="col">File</th>
                  <th scope="col">What it is</th>
                  <th scope="col">Plane</th>
                  <th scope="col">Angle</th>
                  <th scope="col">Driver</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <Row key={row.key} row={row} drivers={drivers} onChange={proposal.setRow} />
                ))}
              </tbody>
            </Table>
          </Scroll>
          <Buttons>
            <PrimaryButton autoFocus onPress={() => takeOver(true)}>
              Take over
            </PrimaryButton>
            <Button onPress={() => takeOver(false)}>Only the measurements</Button>
            <Button onPress={onDone}>Leave all of them out</Button>
          </Buttons>
        </Sheet>
      </Modal>
    </Veil>
  );
}

type ProposalState = ReturnType<typeof useProposal>;

/** One line for each driver: its name, and what it would be given. */
function Drivers({ proposal: { rows, drivers, rename } }: { readonly proposal: ProposalState }) {
  if (drivers.length === 0)
    return <Quiet>The names tell no drivers. Choose one for each, or give them later.</Quiet>;
  return (
    <List aria-label="Drivers that the files describe">
      {drivers.map(({ key, name, existingId }) => {
        const members = rows
          .filter(({ ownerKey }) => ownerKey === key)
          .map((row) => row.measurement);
        const { responseId, impedanceId, leftOver } = slotsOf(members);
        const lacks = [responseId === null && 'no response', impedanceId === null && 'no impedance']
          .filter(Boolean)
          .join(', ');
        return (
          <li key={key}>
            <strong>
              <NameField
                label={`Name of the driver ${name}`}
                value={name}
                onCommit={(next) => rename(key, next)}
              />
            </strong>
            <span>
              {membersInWords(members) || 'nothing'}
              {existingId !== null && '; is in the design already'}
              {lacks !== '' && members.length > 0 && `; ${lacks} yet`}
              {leftOver.length > 0 && `; ${leftOver.length} more than it has places for`}
            </span>
          </li>
        );
      })}
    </List>
  );
}

function Timing({
  timing,
  proposal: { microphone, setMicrophone },
}: {
  readonly timing: TimingPattern | null;
  readonly proposal: ProposalState;
}) {
  const ms = (value: number) => formatFixed(value, 2);
  const said =
    timing?.kind === 'common'
      ? `Their flight times, ${ms(timing.fromMs)} to ${ms(timing.toMs)} ms, fit one microphone position: common timing.`
      : timing?.kind === 'own'
        ? 'Their phases hold no flight time: each was set to its own arrival, so paths follow from the drivers’ positions.'
        : timing?.kind === 'mixed'
          ? `Their flight times, ${ms(timing.fromMs)} to ${ms(timing.toMs)} ms, do not fit one microphone position: check how they were measured.`
          : '';
  return (
    <>
      {said !== '' && <Note $kind={timing?.kind === 'mixed' ? 'doubt' : 'plain'}>{said}</Note>}
      <Sentence>
        The microphone was{' '}
        <QuantityBlank
          label="distance of the microphone"
          value={microphone.distanceMm}
          dimension="millimetre"
          min={1}
          max={20_000}
          stepBy={10}
          onChange={(distanceMm) =>
            distanceMm !== null && setMicrophone({ ...microphone, distanceMm })
          }
        />{' '}
        from the baffle for all of them.{' '}
        <Tick
          isSelected={microphone.commonTiming}
          onChange={(commonTiming) => setMicrophone({ ...microphone, commonTiming })}
        >
          Timing is common to the set
        </Tick>
      </Sentence>
    </>
  );
}

interface RowProps {
  readonly row: ProposalRow;
  readonly drivers: ProposalState['drivers'];
  readonly onChange: (key: string, set: Partial<ProposalRow['said']>) => void;
}

function Row({
  row: { key, measurement, ownerKey, withPhase, usesPhase },
  drivers,
  onChange,
}: RowProps) {
  const { name, kind, angle } = measurement;
  return (
    <>
      <tr>
        <th scope="row">{name}</th>
        <td>
          <Choice<Measurement['kind']>
            label={`What ${name} is`}
            hideLabel
            options={[
              { id: 'response', text: 'response' },
              { id: 'impedance', text: 'impedance' },
            ]}
            value={kind}
            onChange={(next) => onChange(key, { kind: next })}
          />
        </td>
        <td>
          {kind === 'response' && (
            <PlaneChoice
              name={name}
              angle={angle}
              onChange={(next) => onChange(key, { angle: next })}
            />
          )}
        </td>
        <td>
          {kind === 'response' && angle && (
            <QuantityBlank
              label={`Angle of ${name}`}
              value={angle.degrees}
              dimension="degree"
              min={-180}
              max={180}
              stepBy={5}
              onChange={(degrees) =>
                degrees !== null && onChange(key, { angle: { ...angle, degrees } })
              }
            />
          )}
        </td>
        <td>
          <Choice
            label={`Driver of ${name}`}
            hideLabel
            options={[
              { id: nobody, text: 'nobody yet' },
              ...drivers.map((driver) => ({ id: driver.key, text: driver.name })),
            ]}
            value={ownerKey ?? nobody}
            onChange={(owner) => onChange(key, { ownerKey: owner === nobody ? null : owner })}
          />
        </td>
      </tr>
      {withPhase && (
        <tr>
          <td colSpan={5}>
            <PhaseOffer
              name={name}
              offer={withPhase}
              isUsed={usesPhase}
              onUse={(use) => onChange(key, { usesPhase: use })}
            />
          </td>
        </tr>
      )}
    </>
  );
}

interface PhaseOfferProps {
  readonly name: string;
  readonly offer: ImportedWithPhase;
  readonly isUsed: boolean;
  readonly onUse: (isUsed: boolean) => void;
}

/** A column that could be the phase, drawn so that one sees whether it is. */
function PhaseOffer({ name, offer, isUsed, onUse }: PhaseOfferProps) {
  const { column, label, measurement, numbers } = offer;
  return (
    <Offer>
      <PhasePicture samples={numbers.get(measurement.id)!} />
      <Tick
        isSelected={isUsed}
        onChange={onUse}
        aria-label={`Use column ${column} of ${name} as its phase`}
      >
        Nothing says that it is the phase, but column {column}
        {label !== '' && ` (“${label}”)`} runs like one, in degrees: use it
      </Tick>
    </Offer>
  );
}

const [pictureWidth, pictureHeight] = [150, 44];

function PhasePicture({ samples }: { readonly samples: Samples }) {
  const { frequencyHz, magnitude: values } = thinnedForDisplay(
    { frequencyHz: samples.frequencyHz, magnitude: samples.phaseDeg!, phaseDeg: null },
    pictureWidth,
  );
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const [from, to] = [Math.log(frequencyHz[0]), Math.log(frequencyHz[frequencyHz.length - 1])];
  const x = Array.from(frequencyHz, (hz) =>
    ((pictureWidth * (Math.log(hz) - from)) / (to - from)).toFixed(1),
  );
  return (
    <svg width={pictureWidth} height={pictureHeight} aria-hidden>
      <path
        d={linePath(
          x,
          values,
          (degrees) => 2 + ((pictureHeight - 4) * (high - degrees)) / (high - low),
        )}
        fill="none"
        stroke="currentColor"
      />
    </svg>
  );
}

const Sheet = styled(Dialog)`
  display: grid;
  gap: 0.6rem;
  width: min(62rem, 94vw);
  max-height: 80vh;
  grid-template-rows: auto auto auto auto minmax(0, 1fr) auto;
  padding: 1.1rem 1.3rem;
  background: ${({ theme }) => theme.colour.sheet};
  border: 1px solid ${({ theme }) => theme.colour.rule};
  border-radius: ${({ theme }) => theme.radius};
`;

const Scroll = styled.div`
  overflow: auto;
  min-height: 8rem;
  border: 1px solid ${({ theme }) => theme.colour.grid};
`;

const Table = styled.table`
  ${tableLook}
  width: 100%;
  th:first-child {
    padding-left: 0.6rem;
  }
  td button,
  th button {
    font-size: ${({ theme }) => theme.size.small};
  }
`;

const List = styled.ul`
  display: grid;
  gap: 0.2rem;
  li {
    display: grid;
    grid-template-columns: 13rem 1fr;
    align-items: baseline;
    gap: 0.6rem;
  }
`;

const Buttons = styled.div`
  display: flex;
  gap: 0.6rem;
`;

const Offer = styled.div`
  display: flex;
  align-items: center;
  gap: 0.8rem;
  color: ${({ theme }) => theme.colour.ink};
`;
