'use client';
import type { WayId } from '@/core/fields';
import { useShallow } from 'zustand/react/shallow';
import { ChevronDown, ChevronUp } from 'lucide-react';
import { memo, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { Button } from 'react-aria-components';
import styled from 'styled-components';
import { problem, sentence } from '@/core/problem';
import type { Finding, Prediction } from '@/core/prediction/prediction';
import type { JudgedAlternative } from '@/core/insight/sideBySide';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import type { ChartMark, Curve, LiveCurves } from '@/ui/chart/curve';
import { levelScale, ohmScale } from '@/ui/chart/window';
import { Choice } from '@/ui/fields/Choice';
import { Note } from '@/ui/sheets';
import { ActingHere } from './ActingHere';
import { useRegisterActions, type Action } from '@/desk/actions';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { shelfButtonLook } from './shelfButtonLook';
import { DeskSources, Sources } from './Sources';
import { shownOf, type DeskState } from '@/desk/deskState';
import { useStage } from '@/desk/useStage';
import { useTrapHandles } from './useTrapHandles';
import {
  reversedWay,
  createShelfCurves,
  shelfCurves,
  waysOf,
  type NamedWay,
  type ShelfCurves,
} from './shelfCurves';

/** The charts that never leave the screen: on axis, one way reversed, impedance. */
export function CurveShelf() {
  const desk = useDesk();
  const stage = useStage();
  const isFolded = useDeskState((state) => state.shelfFolds[stage.id] ?? stage.hasOwnCurves);
  const computeMs = useDeskState((state) => state.computeMs);
  const foldAction = useMemo<Action[]>(
    () => [
      {
        id: 'fold-shelf',
        group: 'Curves',
        name: isFolded ? 'Show the curves' : 'Hide the curves',
        keys: ['H'],
        run: () => desk.foldShelf(stage.id, !isFolded),
      },
    ],
    [desk, stage, isFolded],
  );
  useRegisterActions(foldAction);
  return (
    <Shelf aria-label="Curves" data-compute-ms={computeMs?.toFixed(2)}>
      <Fold
        type="button"
        aria-expanded={!isFolded}
        onClick={() => desk.foldShelf(stage.id, !isFolded)}
        title="H"
      >
        {isFolded ? <ChevronUp size={13} aria-hidden /> : <ChevronDown size={13} aria-hidden />}
        {isFolded ? 'show the curves' : 'hide'} <kbd>H</kbd>
      </Fold>
      {!isFolded && <Curves />}
      {!isFolded && (
        <Sources button={<SourcesButton>where these come from</SourcesButton>}>
          <DeskSources />
        </Sources>
      )}
    </Shelf>
  );
}

function Curves() {
  // The same map until a name changes, so that the charts do not change until there are new curves.
  const names = useDeskState(useShallow(namesOfWays));
  const volts = useDeskState((state) => shownOf(state).design.amplifier.volts);
  const failure = useDeskState((state) => state.predictionFailure);
  // Curves may come a moment after the key stroke that moved them; the key stroke may not wait for
  // curves.
  const prediction = useDeferredValue(useDeskState((state) => shownOf(state).prediction));
  const reference = useDeskState((state) =>
    state.isFlipped ? state.prediction : (state.pinned?.prediction ?? null),
  );
  const isPending = useDeskState((state) =>
    state.design.measurements.some(({ id }) => !state.loaded.has(id)),
  );
  const loadTrouble = useDeskState((state) => state.loadTrouble);
  const stopping = prediction?.findings.filter(({ severity }) => severity === 'stops') ?? [];
  return (
    <>
      {failure !== null && (
        <Note $kind="alarm">
          The prediction failed: {failure} Undo the last change if it goes on.
        </Note>
      )}
      {loadTrouble !== null && (
        <Note $kind="alarm" role="alert">
          Measurements could not be loaded; they are asked for again by themselves. {loadTrouble}
        </Note>
      )}
      {prediction?.impedance ? (
        <Charts prediction={prediction} reference={reference} names={names} volts={volts} />
      ) : (
        <Empty>
          {isPending || !prediction ? (
            <p>{loadTrouble ?? 'Loading the measurements …'}</p>
          ) : stopping.length > 0 ? (
            stopping
              .slice(0, 4)
              .map((finding) => <p key={finding.code + finding.where}>{told(finding)}</p>)
          ) : (
            <p>
              The curves appear here once a driver with response and impedance is at the end of a
              rail.
            </p>
          )}
        </Empty>
      )}
      {prediction?.impedance && prediction.findings.length > 0 && (
        <Findings aria-label="Findings">
          {prediction.findings.slice(0, 3).map((finding) => (
            <Note
              key={finding.code + finding.where}
              $kind={finding.severity === 'stops' ? 'alarm' : 'doubt'}
            >
              {told(finding)}
            </Note>
          ))}
        </Findings>
      )}
    </>
  );
}

const namesOfWays = (state: DeskState): ReadonlyMap<string, string> =>
  new Map(shownOf(state).design.ways.map(({ id, name }) => [id, name]));

/** The sentence of a finding without its place, which it names itself. */
const told = ({ code, what, why, mend }: Finding) =>
  sentence(problem(code, '', what, why, mend).problem);

interface ChartsProps {
  readonly prediction: Prediction;
  /** Drawn under it, for comparison. */
  readonly reference: Prediction | null;
  /** Names of the ways by id. */
  readonly names: ReadonlyMap<string, string>;
  readonly volts: number;
}

const Charts = memo(function Charts({ prediction, reference, names, volts }: ChartsProps) {
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const [reversed, setReversed] = useState<string | null>(null);
  const judged = useDeferredValue(useDeskState((state) => shownOf(state).judged));
  const promises = useMemo(() => judged.map(({ promise }) => promise), [judged]);
  const alternatives = useDeferredValue(useDeskState(alternativesOf));
  const { frequencyHz, sum, impedance, summary } = prediction;
  const named = useMemo(() => waysOf(names), [names]);
  const turned = reversedWay(prediction, reversed);
  const { onAxis, reversal, load } = useMemo(
    () => shelfCurves(prediction, named, turned, { reference, promises, alternatives }),
    [prediction, named, turned, reference, promises, alternatives],
  );
  const stage = useStage();
  const isVoicing = stage.id === 'network';
  const { handles, pullDown } = useTrapHandles(prediction);
  const cursor = useRef(cursorHz);
  useEffect(() => {
    cursor.current = cursorHz;
  }, [cursorHz]);
  const pullAction = useMemo<Action[]>(
    () =>
      isVoicing
        ? [
            {
              id: 'pull-down',
              group: 'Network',
              name: 'Add a trap at the cursor, or at the highest bump',
              keys: ['D'],
              run: () => pullDown(cursor.current),
            },
          ]
        : [],
    [isVoicing, pullDown],
  );
  useRegisterActions(pullAction);
  const gaps = useGaps(prediction, named);
  const live = useLiveCurves(named, turned, reference);
  const levels = levelScale(sum?.levelDb ?? []);
  const shared = { frequencyHz, cursorHz, onCursor: setCursorHz };
  return (
    <>
      <Row>
        <FrequencyChart
          {...shared}
          title={`On axis, 1 m, ${formatQuantity(volts, 'volt')}`}
          curves={onAxis}
          marks={gaps}
          live={live.onAxis}
          {...levels}
          unit="dB"
          {...(isVoicing ? { handles } : {})}
          aside={
            summary.onAxis &&
            `200 Hz–15 kHz: +${formatFixed(summary.onAxis.highestDb, 1)} ${formatFixed(summary.onAxis.lowestDb, 1)} dB`
          }
        />
        <FrequencyChart
          {...shared}
          title="With one way reversed"
          curves={reversal}
          live={live.reversal}
          {...levels}
          unit="dB"
          aside={
            turned !== null && <WayChoice names={names} chosen={turned} onChoose={setReversed} />
          }
        />
        <FrequencyChart
          {...shared}
          title="Impedance"
          curves={load}
          live={live.load}
          {...ohmScale(impedance?.ohms ?? [])}
          unit="Ω"
          rightAxis={phaseAxis}
          aside={
            summary.lowestImpedance &&
            `lowest ${formatFixed(summary.lowestImpedance.ohms, 1)} Ω at ${formatQuantity(Number(summary.lowestImpedance.atHz.toPrecision(3)), 'hertz')}`
          }
        />
      </Row>
      {isVoicing && (
        <PullButton onPress={() => pullDown(null)} aria-label="Notch the highest peak">
          notch a peak <kbd>D</kbd>
        </PullButton>
      )}
      <ActingHere cursorHz={cursorHz} />
    </>
  );
});

const noAlternatives: readonly JudgedAlternative[] = [];
const alternativesOf = ({ study }: DeskState) => study?.alternatives ?? noAlternatives;

/**
 * Stretches that were not measured, told by way and reason; the same list while they are the same.
 */
function useGaps(prediction: Prediction, named: readonly NamedWay[]): readonly ChartMark[] {
  const told = JSON.stringify(
    prediction.ways.flatMap(({ wayId, gaps }) =>
      gaps.map(({ fromHz, toHz, reason }): ChartMark => {
        const name = named.find(({ id }) => id === wayId)?.name ?? '';
        return { fromHz, toHz, label: `${name}: ${reason}` };
      }),
    ),
  );
  return useMemo(() => JSON.parse(told) as ChartMark[], [told]);
}

/** The curves of each chart as soon as the worker has them. */
function useLiveCurves(
  named: readonly NamedWay[],
  turned: string | null,
  reference: Prediction | null,
) {
  const { store } = useDesk();
  return useMemo(() => {
    const curvesOf = createShelfCurves(named, turned, reference);
    const follow =
      (pick: (curves: ShelfCurves) => readonly Curve[]): LiveCurves =>
      (draw) =>
        store.subscribe((state, before) => {
          const { prediction, isFlipped, preview } = state;
          if (!prediction || prediction === before.prediction || isFlipped || preview) return;
          const promises = state.judged.map(({ promise }) => promise);
          draw(pick(curvesOf(prediction, promises, alternativesOf(state))));
        });
    return {
      onAxis: follow(({ onAxis }) => onAxis),
      reversal: follow(({ reversal }) => reversal),
      load: follow(({ load }) => load),
    };
  }, [store, named, turned, reference]);
}

const phaseAxis = { bottom: -90, top: 90, unit: '°', ticks: [-90, -45, 0, 45, 90] };

interface WayChoiceProps {
  readonly names: ReadonlyMap<string, string>;
  readonly chosen: string;
  readonly onChoose: (wayId: WayId) => void;
}

/** Which way is turned round. */
const WayChoice = memo(function WayChoice({ names, chosen, onChoose }: WayChoiceProps) {
  const options = [...names].map(([id, text]) => ({ id, text }));
  return (
    <Choice
      label="Way that is reversed"
      hideLabel
      options={options}
      value={chosen}
      onChange={onChoose}
    />
  );
});

const Shelf = styled.section`
  grid-row: 3;
  background: ${({ theme }) => theme.colour.sheet};
  border-top: 1px solid ${({ theme }) => theme.colour.rule};
  min-width: 0;
  position: relative;
`;

const Fold = styled.button`
  ${shelfButtonLook}
  right: 0.5rem;
  display: flex;
  align-items: center;
  gap: 0.3rem;
  &[aria-expanded='false'] {
    position: static;
    margin: 0.25rem 0.5rem 0.25rem auto;
  }
`;

const Row = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  > * + * {
    border-left: 1px solid ${({ theme }) => theme.colour.rule};
  }
`;

const Empty = styled.div`
  display: grid;
  place-content: center;
  gap: 0.3rem;
  min-height: 8rem;
  padding: 1rem 2rem;
  color: ${({ theme }) => theme.colour.quiet};
`;

const Findings = styled.div`
  display: grid;
  /* The corners belong to the shelf's buttons. */
  padding: 0 8rem 0 17rem;
  grid-auto-flow: column;
  border-top: 1px solid ${({ theme }) => theme.colour.rule};
`;

const PullButton = styled(Button)`
  ${shelfButtonLook}
  left: 9.4rem;
`;

const SourcesButton = styled(Button)`
  ${shelfButtonLook}
  left: 0.5rem;
`;
