'use client';
import { useMemo, useState } from 'react';
import styled from 'styled-components';
import {
  createActiveFilters,
  plainActiveWay,
  type ActiveFilters,
  type ActivePlay,
  type ActiveWays,
} from '@/core/filters/activeFilters';
import type { Way } from '@/core/document/schema';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button, PrimaryButton } from '@/ui/Button';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Quiet, Sentence } from '@/ui/sheets';
import { curveStyle } from '@/ui/theme';
import { useStartAction } from '@/stages/network/fit/useStartAction';
import { useRegisterActions } from '@/desk/actions';
import { useActiveWays } from './useActiveWays';
import { WaySlopes } from './WaySlopes';

/**
 * What slopes, levels and delays would do before any part is sought: the drivers through ideal
 * active filters.
 */
export function SlopesSheet() {
  const desk = useDesk();
  const design = useDeskState((state) => state.design);
  const prediction = useDeskState((state) => state.prediction);
  const filters = useMemo(
    () => prediction && createActiveFilters(design, prediction),
    [design, prediction],
  );
  const { settings, setOne, setAll } = useActiveWays(desk.projectId);
  const play = useMemo(() => filters?.play(settings) ?? null, [filters, settings]);
  const match = () => filters && setAll(filters.matched());
  useRegisterActions(
    useStartAction('even-out', 'Match levels and delays of the active filters', match),
  );
  return (
    <>
      <h2>Slopes before parts</h2>
      <Quiet>
        The drivers without the network, each through an ideal filter of its own: what the slopes
        can do, and what levels and delays they ask for, before parts are sought.
      </Quiet>
      {!filters || !play ? (
        <Quiet>Give the ways drivers with a response and an impedance first.</Quiet>
      ) : (
        <>
          <Row>
            <PrimaryButton onPress={match}>Match levels and delays</PrimaryButton>
            <Button onPress={() => setAll(new Map())}>All plain</Button>
          </Row>
          <Quiet aria-live="polite">{toldOf(play)}</Quiet>
          <Chart {...{ filters, play }} />
          {filters.ways.map((way) => (
            <Card key={way.id} aria-label={way.name}>
              <h3>{way.name}</h3>
              <WaySlopes way={way} told="" />
              <ActiveBlanks {...{ way, settings, setOne }} />
            </Card>
          ))}
          <Quiet>
            Slopes are kept in the design, and fits and searches work toward them; levels, delays
            and polarities are only tried here. A passive network makes the levels with pads, and
            has no delay but what its slopes and the depth of the drivers bring.
          </Quiet>
        </>
      )}
    </>
  );
}

function toldOf({ deviationDb, lossDb, crossoversHz }: ActivePlay): string {
  const places = crossoversHz
    .map((hz) => formatQuantity(Number(hz.toPrecision(3)), 'hertz'))
    .join(' and ');
  const lost = lossDb === null ? '' : `, where at most ${formatFixed(lossDb, 2)} dB are lost`;
  return [
    `±${formatFixed(deviationDb, 2)} dB in the band of the target.`,
    ...(places === '' ? [] : [`Crosses over at ${places}${lost}.`]),
  ].join(' ');
}

function Chart({ filters, play }: { readonly filters: ActiveFilters; readonly play: ActivePlay }) {
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const all = useDeskState((state) => state.design.ways);
  const top = 10 * Math.ceil((Math.max(...play.sumDb.filter(Number.isFinite)) + 3) / 10);
  return (
    <FrequencyChart
      title="Through active filters"
      frequencyHz={play.frequencyHz}
      curves={[
        ...play.ways.map(({ wayId, levelDb }) => ({
          ...curveStyle(all.findIndex(({ id }) => id === wayId)),
          id: wayId,
          label: filters.ways.find(({ id }) => id === wayId)?.name.toLowerCase() ?? '',
          values: levelDb,
          width: 1.2,
        })),
        { id: 'sum', label: 'sum', values: play.sumDb, colour: 'var(--ink)', width: 1.8 },
      ]}
      bottom={top - 50}
      top={top}
      unit="dB"
      cursorHz={cursorHz}
      onCursor={setCursorHz}
    />
  );
}

const polarities = [
  { id: 'normal', text: 'in phase' },
  { id: 'reversed', text: 'reversed' },
] as const;

function ActiveBlanks({
  way,
  settings,
  setOne,
}: {
  readonly way: Way;
  readonly settings: ActiveWays;
  readonly setOne: ReturnType<typeof useActiveWays>['setOne'];
}) {
  const { gainDb, delayMs, isReversed } = settings.get(way.id) ?? plainActiveWay;
  return (
    <Sentence>
      Here at{' '}
      <QuantityBlank
        label={`level of ${way.name}`}
        value={gainDb}
        dimension="decibel"
        min={-40}
        max={20}
        stepBy={0.5}
        onChange={(next) => setOne(way.id, { gainDb: next ?? 0 })}
      />
      , delayed by{' '}
      <QuantityBlank
        label={`delay of ${way.name}`}
        value={delayMs}
        dimension="millisecond"
        min={0}
        max={20}
        stepBy={0.01}
        onChange={(next) => setOne(way.id, { delayMs: next ?? 0 })}
      />
      ,{' '}
      <ChoiceBlank
        label={`polarity of ${way.name}`}
        options={polarities}
        value={isReversed ? 'reversed' : 'normal'}
        onChange={(next) => setOne(way.id, { isReversed: next === 'reversed' })}
      />
      .
    </Sentence>
  );
}

const Row = styled.div`
  display: flex;
  gap: 0.5rem;
`;

const Card = styled.section`
  display: grid;
  gap: 0.3rem;
  & > h3 {
    margin: 0;
    font-size: ${({ theme }) => theme.size.small};
  }
`;
