'use client';
import { useState } from 'react';
import styled from 'styled-components';
import { brokenCountOf } from '@/core/exploration/shortlist';
import { type FoundNetwork } from '@/core/exploration/found';
import { picksOf } from '@/core/exploration/picks';
import { formatFixed } from '@/core/units/quantity';
import { useRegisterActions } from '@/desk/actions';
import { useDeskState } from '@/desk/DeskContext';
import { useStartAction } from '@/stages/network/fit/useStartAction';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { PrimaryButton, TextButton } from '@/ui/Button';
import { ProgressBarWithStop } from '@/ui/ProgressBarWithStop';
import { Note, Quiet, Sentence } from '@/ui/sheets';
import { Tick } from '@/ui/fields/Tick';
import { ServerSearches } from './ServerSearches';
import { StockChoices } from '@/stages/network/fit/StockChoices';
import { goalOf } from '@/core/fitting/goal';
import { FitAims } from '@/stages/network/fit/FitAims';
import { PartLimitBlanks } from '@/stages/network/fit/PartLimitBlanks';
import { useSheetChoices } from '@/stages/network/fit/sheetChoices';
import { SearchTable } from './SearchTable';
import { TradePlot } from './TradePlot';
import { useSearch } from './useSearch';
import { useServerSearches } from './useServerSearches';

/** By what the networks found are sorted; the first is the order in which they come. */
const orders = {
  promises: { text: 'promises kept, then deviation', of: null },
  parts: { text: 'parts', of: ({ partCount }: FoundNetwork) => partCount },
  deviation: { text: 'deviation', of: ({ figures }: FoundNetwork) => figures.deviationDb },
  load: { text: 'lowest |Z|', of: ({ figures }: FoundNetwork) => -figures.lowestOhms },
  scatter: { text: 'scatter', of: ({ scatterDb }: FoundNetwork) => scatterDb },
  cost: { text: 'cost', of: ({ figures }: FoundNetwork) => figures.outlay },
} as const;

type Order = keyof typeof orders;

/** Finds whole networks from nothing and shows them with what one decides by. */
export function SearchSheet() {
  const { progress, outcome, best, trouble, stop, search, layOut, show, takeOver } = useSearch();
  const design = useDeskState((state) => state.design);
  const server = useServerSearches();
  const [isOnServer, setIsOnServer] = useState(false);
  const { limits, series, isOfStock, set } = useSheetChoices();
  const { currency } = design.brief;
  const goal = goalOf(design, limits);
  const [shown, setShown] = useState<FoundNetwork | null>(null);
  const [order, setOrder] = useState<Order>('promises');
  const isPreviewed = useDeskState((state) => state.preview !== null);
  const choose = (network: FoundNetwork | null) => {
    setShown(network);
    show(network);
  };
  const start = () => {
    if (progress !== null) return;
    choose(null);
    const within = { ...limits, stock: isOfStock ? series : null };
    void (isOnServer ? server.begin(within) : search(within));
  };
  useRegisterActions(useStartAction('search', 'Search networks from nothing', start));
  const { of } = orders[order];
  const listed = [...best].sort((a, b) => (of ? of(a) - of(b) : 0));
  const isAnyWhole = best.some((one) => brokenCountOf(one) === 0);
  return (
    <>
      <h2>Search from nothing</h2>
      <div>
        <PrimaryButton onPress={start}>Search</PrimaryButton>
      </div>
      {progress && (
        <>
          <ProgressBarWithStop name="Searching" percent={progress.percent} onStop={stop} />
          <Quiet aria-live="polite">{progress.words}</Quiet>
        </>
      )}
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
      <Settings open={best.length === 0}>
        <summary>What it searches, and within what</summary>
        <Quiet>
          Tries every sensible network for the drivers of this design: orders, L-pads, polarity,
          Zobel networks, traps, each fitted to what the promises ask. What is on the rails stays
          until one is taken over.
        </Quiet>
        <Sentence>
          At most{' '}
          <QuantityBlank
            label="largest number of parts"
            value={limits.mostParts}
            dimension="number"
            min={2}
            max={24}
            stepBy={1}
            onChange={(next) =>
              next !== null && set({ limits: { ...limits, mostParts: Math.round(next) } })
            }
          />{' '}
          parts, no coil above{' '}
          <QuantityBlank
            label="largest coil"
            placeholder="any size"
            value={limits.mostHenries}
            dimension="henry"
            min={0.05e-3}
            max={0.1}
            stepBy={0.5e-3}
            onChange={(mostHenries) => set({ limits: { ...limits, mostHenries } })}
          />
          .
        </Sentence>
        <PartLimitBlanks />
        <FitAims goal={goal} />
        <Quiet>
          Where the listening window and the directivity are known and nobody promised them, they
          are kept within ±2.5 and ±2 dB, which gives way before any promise. Where some network
          keeps all that is promised, only such are listed.
        </Quiet>
        <Tick isSelected={isOfStock} onChange={(next) => set({ isOfStock: next })}>
          Only values that one can have
        </Tick>
        {isOfStock && (
          <StockChoices parts={[]} series={series} onChange={(next) => set({ series: next })} />
        )}
        <Tick isSelected={isOnServer} onChange={setIsOnServer}>
          On the server, where it goes on when this page is closed
        </Tick>
      </Settings>
      <ServerSearches
        searches={server.searches}
        trouble={server.trouble}
        onStop={(id) => void server.stop(id)}
        onGoOn={(id) => void server.goOn(id)}
        onShow={({ networks, tried, state }) => {
          choose(null);
          layOut({ networks: networks ?? [], tried, isStopped: state === 'stopped' });
        }}
      />
      {outcome && (
        <Quiet>
          {outcome.isStopped ? 'Stopped. ' : ''}
          {outcome.tried.toLocaleString('en')} networks fitted; {best.length} are left that nothing
          simpler beats.
          {best.length === 0 &&
            !outcome.isStopped &&
            isOfStock &&
            ' With the values at hand none can be made: list more pieces, or take series.'}
        </Quiet>
      )}
      {best.length > 0 && (
        <>
          {outcome && <Picks networks={best} onShow={choose} />}
          <TradePlot networks={best} shown={shown} onShow={choose} />
          <Sentence>
            By{' '}
            <ChoiceBlank
              label="order of the networks"
              options={Object.entries(orders).map(([id, { text }]) => ({ id, text }))}
              value={order}
              onChange={(next) => setOrder(next as Order)}
            />
            .
          </Sentence>
          {outcome && !isAnyWhole && (
            <Note $kind="doubt">
              None keeps all that is promised. Those that break least come first, each with what
              would have to give; more parts, or less asked, may do.
            </Note>
          )}
          <SearchTable
            networks={listed}
            onTakeOver={takeOver}
            onShow={choose}
            {...{ shown, currency }}
          />
          {/* Always there and as high, so that nothing moves under the pointer. */}
          <About $kind="plain">
            {shown ? (
              <>
                {isPreviewed && <strong>Only looked at: the design itself is unchanged. </strong>}
                <TextButton onPress={() => choose(null)}>Back to the design</TextButton>
                <ul>
                  {shown.words.map((words) => (
                    <li key={words}>{words}</li>
                  ))}
                </ul>
                {whyThis(shown, best)}
              </>
            ) : (
              'Point at a network, or step through them with Tab: rails and curves show it, and why one would take it is here.'
            )}
          </About>
        </>
      )}
    </>
  );
}

/** Which of the networks is best for what, each with its reason. */
function Picks({
  networks,
  onShow,
}: {
  readonly networks: readonly FoundNetwork[];
  readonly onShow: (network: FoundNetwork) => void;
}) {
  return (
    <List aria-label="Best for">
      {picksOf(networks).map(({ bestFor, because, network }) => (
        <li key={bestFor}>
          Best for {bestFor}:{' '}
          <TextButton onPress={() => onShow(network)}>{network.partCount} parts</TextButton>,{' '}
          {because}.
        </li>
      ))}
    </List>
  );
}

/** Why one would take this one: what the next simpler and the next richer network give. */
function whyThis(network: FoundNetwork, all: readonly FoundNetwork[]): string {
  const { partCount, figures, scatterDb, keptShare } = network;
  const deviation = ({ figures: { deviationDb } }: FoundNetwork) => deviationDb;
  const byDeviation = (a: FoundNetwork, b: FoundNetwork) => deviation(a) - deviation(b);
  const simpler = all
    .filter((one) => one.partCount < partCount)
    .sort(byDeviation)
    .at(0);
  const richer = all
    .filter((one) => one.partCount > partCount && deviation(one) < deviation(network))
    .sort((a, b) => a.partCount - b.partCount || byDeviation(a, b))
    .at(0);
  const told = (one: FoundNetwork) => `±${formatFixed(deviation(one), 2)} dB`;
  const parts = (more: number) => `${more} part${more === 1 ? '' : 's'}`;
  return [
    simpler
      ? `Its ${parts(partCount - simpler.partCount)} over the best simpler one ${deviation(simpler) > deviation(network) ? `bring ${told(simpler)} to ${told(network)}` : `keep more of what was promised, not a flatter response (${told(simpler)} there)`}.`
      : 'No simpler one was found.',
    richer
      ? `${parts(richer.partCount - partCount)} more would give ${told(richer)}.`
      : 'More parts gave nothing better.',
    `Its load stays above ${formatFixed(figures.lowestOhms, 1)} Ω, and parts within ±5 % move it by ${formatFixed(scatterDb, 2)} dB rms${keptShare === null ? '' : `; ${formatFixed(100 * keptShare, 0)} of 100 builds from parts within the tolerance keep what it keeps`}.`,
  ].join(' ');
}

const Settings = styled.details`
  & > summary {
    cursor: pointer;
    font-weight: 600;
  }
  &[open] > * + * {
    margin-top: 0.6rem;
  }
`;

const List = styled.ul`
  margin: 0;
  padding-left: 1.1rem;
  font-size: ${({ theme }) => theme.size.small};
`;

const About = styled(Note)`
  min-height: 15rem;
`;
