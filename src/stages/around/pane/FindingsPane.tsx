'use client';
import { useMemo } from 'react';
import styled from 'styled-components';
import type { AroundFinding, AroundMend } from '@/core/around/findings';
import { lobesOf } from '@/core/around/lobes';
import type { AroundView } from '@/core/around/orbits';
import type { Design } from '@/core/document/schema';
import { earsAboveAxisMm } from '@/core/document/seats';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { crossovers } from '@/core/prediction/crossovers';
import type { Prediction } from '@/core/prediction/prediction';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { shownOf } from '@/desk/deskState';
import { Button, TextButton } from '@/ui/Button';
import { Note, Quiet } from '@/ui/sheets';
import type { AroundStudyState } from '@/stages/around/useAroundWork';

interface FindingsPaneProps {
  readonly design: Design;
  readonly view: AroundView;
  readonly study: AroundStudyState;
  readonly chosen: AroundFinding | null;
  readonly onChoose: (finding: AroundFinding) => void;
}

const db = (value: number) => `${formatFixed(value, 1)} dB`;
const mm = (value: number) => formatQuantity(Math.round(value), 'millimetre');

/** What directivity does, why, and what would mend it. */
export function FindingsPane({ design, view, study, chosen, onChoose }: FindingsPaneProps) {
  const prediction = useDeskState((state) => shownOf(state).prediction);
  const { findings, isBusy, trouble } = study;
  return (
    <>
      <Status role="status" aria-label="Findings around the speaker">
        {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
        {findings === null && trouble === null && <Quiet>Looking for causes …</Quiet>}
        {findings?.length === 0 && !isBusy && (
          <Note $kind="plain">
            Between the ends that are promised, the directivity index balloons or narrows nowhere by
            1 dB or more against a straight line.
          </Note>
        )}
      </Status>
      {findings?.map((finding) => (
        <FindingNote
          key={`${finding.anomaly.kind} ${finding.anomaly.atHz}`}
          finding={finding}
          isOpen={chosen?.anomaly.atHz === finding.anomaly.atHz}
          onOpen={() => onChoose(finding)}
        />
      ))}
      {isBusy && findings !== null && <Quiet>Taking causes out one at a time …</Quiet>}
      <HeightNote design={design} view={view} />
      {prediction && <LobeNote view={view} prediction={prediction} />}
    </>
  );
}

interface FindingNoteProps {
  readonly finding: AroundFinding;
  readonly isOpen: boolean;
  readonly onOpen: () => void;
}

function FindingNote({ finding, isOpen, onOpen }: FindingNoteProps) {
  const desk = useDesk();
  const { title, reason, takenOut, mends, equalising } = finding;
  const mend = ({ changes, told }: AroundMend) => desk.change(changes, told);
  return (
    <Note $kind="doubt" data-open={isOpen || undefined}>
      <strong>{isOpen ? title : <TextButton onPress={onOpen}>{title}</TextButton>}</strong>.{' '}
      {reason}
      {isOpen && (
        <Body>
          <table aria-label={`Causes removed: ${title}`}>
            <caption>Removed one at a time</caption>
            <tbody>
              {takenOut.map(({ told, byDb, leftDb }) => (
                <tr key={told}>
                  <th scope="row">{told}</th>
                  <td>
                    {byDb > 0 ? '+' : byDb < 0 ? '−' : ''}
                    {db(Math.abs(byDb))}
                  </td>
                  <td>{db(leftDb)} left</td>
                </tr>
              ))}
            </tbody>
          </table>
          {mends.map((one) => (
            <span key={one.told}>
              To mend it, {one.told}: {db(one.leftDb)} left.{' '}
              {one.changes.length > 0 && (
                <Button onPress={() => mend(one)}>
                  {one.changes[0].type === 'editWay' ? 'Set target slopes there' : 'Do it'}
                </Button>
              )}
            </span>
          ))}
          <Quiet>{equalising}</Quiet>
        </Body>
      )}
    </Note>
  );
}

/** Heights over which the promise of the axis holds, against the ears. */
/** A height against the axis. */
const beside = (heightMm: number) =>
  `${mm(Math.abs(heightMm))} ${heightMm < 0 ? 'below' : 'above'}`;

function HeightNote({
  design,
  view: { verticalWindow },
}: {
  readonly design: Design;
  readonly view: AroundView;
}) {
  const ears = earsAboveAxisMm(design);
  const told =
    design.earHeightMm === null || design.axisHeightMm === null
      ? 'the heights of axis and ears are open (Baffle, Spacing)'
      : `ears are ${mm(Math.abs(ears))} ${ears < 0 ? 'below' : 'above'} the axis`;
  if (!verticalWindow)
    return (
      <Note $kind="plain">
        At no height within 25° of the axis does the response keep what is promised on it; {told}.
      </Note>
    );
  const { fromMm, toMm, withinDb } = verticalWindow;
  const isInside = ears >= fromMm && ears <= toMm;
  return (
    <Note $kind={isInside ? 'plain' : 'doubt'}>
      Within ±{db(withinDb)} from {beside(fromMm)} to {beside(toMm)} the axis at{' '}
      {formatQuantity(design.listeningDistanceMm, 'distance')}; {told}
      {isInside ? '.' : ', outside of it.'}
    </Note>
  );
}

/** Where neighbouring ways cancel above and below the axis. */
function LobeNote({
  view,
  prediction,
}: {
  readonly view: AroundView;
  readonly prediction: Prediction;
}) {
  const lobes = useMemo(() => lobesOf(view, crossovers(prediction)), [view, prediction]);
  const told = lobes.flatMap(({ atHz, above, below }) => {
    const nulls = [
      below && `${-below.degrees}° below (${formatFixed(below.db, 0)} dB)`,
      above && `${above.degrees}° above (${formatFixed(above.db, 0)} dB)`,
    ].filter((one) => one !== null);
    const hz = formatQuantity(Number(atHz.toPrecision(2)), 'hertz');
    return nulls.length === 0 ? [] : [`at ${hz} ${nulls.join(' and ')}`];
  });
  return told.length === 0 ? null : (
    <Note $kind="plain">Ways cancel first {told.join('; ')} the axis.</Note>
  );
}

/** It takes no room while it has nothing to say. */
const Status = styled.div`
  &:empty {
    position: absolute;
  }
`;

const Body = styled.div`
  display: grid;
  gap: 0.45rem;
  margin-top: 0.4rem;
  caption {
    text-align: left;
    color: ${({ theme }) => theme.colour.quiet};
    font-size: ${({ theme }) => theme.size.small};
  }
  table {
    border-collapse: collapse;
    width: 100%;
    font-size: ${({ theme }) => theme.size.small};
  }
  th {
    text-align: left;
    font-weight: 400;
  }
  td {
    text-align: right;
    white-space: nowrap;
    padding-left: 0.6rem;
  }
`;
