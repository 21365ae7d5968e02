'use client';
import { useState, type PointerEvent } from 'react';
import styled from 'styled-components';
import type { FoundNetwork } from '@/core/fitting/explore';
import { outlayOf } from '@/core/fitting/outlay';
import { formatFixed } from '@/core/units/quantity';
import { useDeskState } from '@/desk/DeskContext';
import { QuantityBlank } from '@/ui/fields/Blank';
import { PrimaryButton, TextButton } from '@/ui/Button';
import { ProgressBarWithStop } from '@/ui/ProgressBarWithStop';
import { Note, Quiet, tableLook, Sentence } from '@/ui/sheets';
import { Tick } from '@/ui/fields/Tick';
import { ServerSearches } from './ServerSearches';
import { PartLimitBlanks } from '@/stages/network/fit/PartLimitBlanks';
import { useSheetChoices } from '@/stages/network/fit/sheetChoices';
import { TradePlot } from './TradePlot';
import { useSearch } from './useSearch';
import { useServerSearches } from './useServerSearches';

/** Finds whole networks from nothing and shows them as a trade of parts against error. */
export function SearchSheet() {
  const { progress, outcome, best, trouble, stop, search, layOut, show, takeOver } = useSearch();
  const server = useServerSearches();
  const [isOnServer, setIsOnServer] = useState(false);
  const { limits, set } = useSheetChoices();
  const currency = useDeskState((state) => state.design.brief.currency);
  const [shownIndex, setShownIndex] = useState<number | null>(null);
  const isPreviewed = useDeskState((state) => state.preview !== null);
  const choose = (index: number | null) => {
    setShownIndex(index);
    show(index === null ? null : best[index]);
  };
  const shown = shownIndex === null ? undefined : best.at(shownIndex);
  return (
    <>
      <h2>Search from nothing</h2>
      <Quiet>
        Tries every sensible network for the drivers of this design: orders, pads, polarity,
        corrections, traps, each fitted to what the promises ask. What is on the rails stays until
        one is taken over.
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
      <Tick isSelected={isOnServer} onChange={setIsOnServer}>
        On the server, where it goes on when this page is closed
      </Tick>
      <div>
        <PrimaryButton
          isDisabled={progress !== null}
          onPress={() => {
            choose(null);
            void (isOnServer ? server.begin(limits) : search(limits));
          }}
        >
          Search
        </PrimaryButton>
      </div>
      {progress && (
        <>
          <ProgressBarWithStop name="Searching" percent={progress.percent} onStop={stop} />
          <Quiet aria-live="polite">{progress.words}</Quiet>
        </>
      )}
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
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
      {outcome && (
        <Quiet>
          {outcome.isStopped ? 'Stopped. ' : ''}
          {outcome.tried.toLocaleString('en')} networks fitted; {best.length} are left of which none
          other is better in everything.
        </Quiet>
      )}
      {best.length > 0 && (
        <>
          <TradePlot networks={best} shownIndex={shownIndex} onShow={choose} />
          <Table aria-label="Networks found">
            <thead>
              <tr>
                <th scope="col">parts</th>
                <th scope="col">on axis</th>
                <th scope="col">|Z|</th>
                <th scope="col" title="what parts within ±5 % make of the response">
                  scatter
                </th>
                <th scope="col" title="of all parts, at the prices above">
                  {currency}
                </th>
                <td />
              </tr>
            </thead>
            <tbody>
              {best.map((network, index) => (
                <tr
                  key={index}
                  aria-current={index === shownIndex ? 'true' : undefined}
                  onPointerMove={(event) => isMoved(event) && index !== shownIndex && choose(index)}
                >
                  <th scope="row">
                    <TextButton
                      aria-label={`Show the network of ${network.partCount} parts, ±${formatFixed(network.figures.deviationDb, 2)} dB`}
                      onPress={() => choose(index)}
                      onFocus={() => choose(index)}
                    >
                      {network.partCount}
                    </TextButton>
                  </th>
                  <td>±{formatFixed(network.figures.deviationDb, 2)} dB</td>
                  <td>{formatFixed(network.figures.lowestOhms, 1)} Ω</td>
                  <td>{formatFixed(network.scatterDb, 2)} dB</td>
                  <td>
                    {formatFixed(
                      outlayOf(
                        network.ways.flatMap(({ parts }) => parts),
                        limits.rates,
                      ),
                      0,
                    )}
                  </td>
                  <td>
                    <TextButton
                      aria-label={`Take over the network of ${network.partCount} parts, ±${formatFixed(network.figures.deviationDb, 2)} dB`}
                      onPress={() => takeOver(network)}
                    >
                      take over
                    </TextButton>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      )}
      {best.length > 0 && (
        // Always there and as high, so that nothing moves under the pointer.
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
      )}
    </>
  );
}

/** A table that moves under a pointer at rest shows nothing. */
const isMoved = ({ movementX, movementY }: PointerEvent) => movementX !== 0 || movementY !== 0;

/** Why one would take this one: what the next simpler and the next richer network give. */
function whyThis(network: FoundNetwork, all: readonly FoundNetwork[]): string {
  const { partCount, figures, scatterDb } = network;
  const byError = (a: FoundNetwork, b: FoundNetwork) => a.cost - b.cost;
  const simpler = all
    .filter((one) => one.partCount < partCount)
    .sort(byError)
    .at(0);
  const richer = all
    .filter((one) => one.partCount > partCount && one.cost < network.cost)
    .sort((a, b) => a.partCount - b.partCount || byError(a, b))
    .at(0);
  const error = ({ figures: { deviationDb } }: FoundNetwork) =>
    `±${formatFixed(deviationDb, 2)} dB`;
  const parts = (more: number) => `${more} part${more === 1 ? '' : 's'}`;
  return [
    simpler
      ? `Its ${parts(partCount - simpler.partCount)} over the best simpler one ${simpler.cost > network.cost ? `bring ${error(simpler)} to ${error(network)}` : `improve load or sensitivity, not the response (${error(simpler)} there)`}.`
      : 'No simpler one was found.',
    richer
      ? `${parts(richer.partCount - partCount)} more would give ${error(richer)}.`
      : 'More parts gave nothing better.',
    `Its load stays above ${formatFixed(figures.lowestOhms, 1)} Ω, and parts within ±5 % move it by ${formatFixed(scatterDb, 2)} dB rms.`,
  ].join(' ');
}

const Table = styled.table`
  ${tableLook}
  tr[aria-current='true'] {
    background: ${({ theme }) => theme.colour.accentWash};
  }
`;

const About = styled(Note)`
  min-height: 15rem;
`;
