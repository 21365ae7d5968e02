'use client';
import { useState } from 'react';
import styled from 'styled-components';
import type { JointGain } from '@/core/around/jointSearch';
import type { JointScore } from '@/core/around/jointScore';
import type { JointWish } from '@/core/around/jointLayout';
import { boundsOf } from '@/core/document/baffleSchema';
import type { Design } from '@/core/document/schema';
import type { DriverId } from '@/core/fields';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { Button, PrimaryButton } from '@/ui/Button';
import { QuantityBlank } from '@/ui/fields/Blank';
import { ProgressBarWithStop } from '@/ui/ProgressBarWithStop';
import { Choices, Note, Quiet, Sentence, tableLook } from '@/ui/sheets';
import { useJointSearch } from '@/stages/around/useJointSearch';

const db = (value: number) => `±${formatFixed(value, 2)}`;
const seed = 1;

interface Reach {
  readonly asideMm: number | null;
  readonly upMm: number | null;
  readonly depthMm: number | null;
}

const noReach: Reach = { asideMm: null, upMm: null, depthMm: null };

/** Layout and network in one search, within limits. */
export function JointPane({ design }: { readonly design: Design }) {
  const search = useJointSearch();
  const panel = design.panels.at(0);
  const [reaches, setReaches] = useState<ReadonlyMap<DriverId, Reach>>(new Map());
  const [narrowestMm, setNarrowest] = useState<number | null>(null);
  const [widestMm, setWidest] = useState<number | null>(null);
  const [radiusMm, setRadius] = useState<number | null>(null);
  if (panel?.kind !== 'box')
    return <Quiet>Draw the front of a box first (Baffle); then it is searched here.</Quiet>;
  const { widthMm } = boundsOf(panel.corners);
  const own = design.drivers.filter(({ mounting }) => mounting.panelId === panel.id);
  const wish: JointWish = {
    panelId: panel.id,
    moves: own.map(({ id }) => {
      const { asideMm, upMm, depthMm } = reaches.get(id) ?? noReach;
      return { driverId: id, asideMm: asideMm ?? 0, upMm: upMm ?? 0, depthMm: depthMm ?? 0 };
    }),
    narrowestMm: narrowestMm ?? widthMm,
    widestMm: widestMm ?? widthMm,
    largestRadiusMm: radiusMm ?? 0,
    seed,
  };
  const isAny =
    wish.moves.some(({ asideMm, upMm, depthMm }) => asideMm + upMm + depthMm > 0) ||
    wish.narrowestMm < wish.widestMm ||
    wish.largestRadiusMm > 0;
  const blank = (
    label: string,
    value: number | null,
    onChange: (mm: number | null) => void,
    placeholder = '0',
  ) => (
    <QuantityBlank
      {...{ label, value, onChange, placeholder }}
      dimension="millimetre"
      stepBy={5}
      min={0}
      max={3000}
    />
  );
  const { progress, result, trouble } = search;
  return (
    <Layout data-entries>
      <Quiet>
        Moves the drivers and the front together with the values of the network, for the flattest
        axis, window and directivity. The crossovers follow from the values.
      </Quiet>
      <Table aria-label="How far drivers may move">
        <thead>
          <tr>
            <th>may move by</th>
            <th>aside</th>
            <th>up, down</th>
            <th>depth</th>
          </tr>
        </thead>
        <tbody>
          {own.map(({ id, name }) => {
            const reach = reaches.get(id) ?? noReach;
            const set = (key: keyof Reach) => (mm: number | null) =>
              setReaches((before) => new Map(before).set(id, { ...reach, [key]: mm }));
            return (
              <tr key={id}>
                <th scope="row">{name}</th>
                <td>{blank(`${name}: aside`, reach.asideMm, set('asideMm'))}</td>
                <td>{blank(`${name}: up or down`, reach.upMm, set('upMm'))}</td>
                <td>{blank(`${name}: depth`, reach.depthMm, set('depthMm'))}</td>
              </tr>
            );
          })}
        </tbody>
      </Table>
      <Sentence>
        The front between{' '}
        {blank('Narrowest front', narrowestMm, setNarrowest, formatNumber(widthMm))} and{' '}
        {blank('Widest front', widestMm, setWidest, formatNumber(widthMm))} wide, its edges rounded
        by up to {blank('Largest radius', radiusMm, setRadius, 'as they are')}.
      </Sentence>
      {progress ? (
        <>
          <ProgressBarWithStop
            name="Search for layout and network"
            percent={Math.round(100 * progress.share)}
            onStop={search.stop}
          />
          <Quiet role="status">
            {progress.told}, {progress.tried} tried
            {progress.best &&
              `; best so far, quickly and without the sphere: axis about ${db(progress.best.axisDb)}, window about ${db(progress.best.windowDb)} dB`}
          </Quiet>
        </>
      ) : (
        <PrimaryButton isDisabled={!isAny} onPress={() => search.search(wish)}>
          Search
        </PrimaryButton>
      )}
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
      {search.isEmpty && (
        <Note $kind="doubt">
          Nothing can be searched: it is not known of some driver what it does off its axis, or
          nothing may move.
        </Note>
      )}
      {result && (
        <>
          <Table aria-label="What the search found">
            <thead>
              <tr>
                <th>± dB</th>
                <th>axis</th>
                <th>window</th>
                <th>DI</th>
                <th>promises broken</th>
              </tr>
            </thead>
            <tbody>
              <ScoreRow told="now, fitted" score={result.before} />
              <ScoreRow told="found" score={result.best} />
            </tbody>
          </Table>
          {result.gains.length === 0 ? (
            <Note $kind="plain">The layout as it is was not beaten.</Note>
          ) : (
            <ul aria-label="What each millimetre buys">
              {result.gains.map((gain) => (
                <li key={`${gain.variable.what} ${gain.variable.driverId}`}>
                  <Gain design={design} gain={gain} best={result.best} />
                </li>
              ))}
            </ul>
          )}
          <Choices>
            <PrimaryButton isDisabled={result.gains.length === 0} onPress={search.takeOver}>
              Take it over
            </PrimaryButton>
            <Button onPress={() => search.show(true)}>Show</Button>
            <Button onPress={() => search.show(false)}>Show mine</Button>
          </Choices>
        </>
      )}
    </Layout>
  );
}

function ScoreRow({ told, score }: { readonly told: string; readonly score: JointScore }) {
  return (
    <tr>
      <th scope="row">{told}</th>
      <td>{db(score.axisDb)}</td>
      <td>{db(score.windowDb)}</td>
      <td>{score.directivityDb === null ? '–' : db(score.directivityDb)}</td>
      <td>{score.brokenCount}</td>
    </tr>
  );
}

/** “Tweeter 27 mm up: window ±1.10 in the place of ±1.22 dB”. */
function Gain({
  design,
  gain: { variable, toMm, without },
  best,
}: {
  readonly design: Design;
  readonly gain: JointGain;
  readonly best: JointScore;
}) {
  const name = design.drivers.find(({ id }) => id === variable.driverId)?.name ?? '';
  const by = toMm - variable.start;
  const size = formatFixed(Math.abs(by), 0);
  const words = {
    aside: `${name} ${size} mm to the ${by > 0 ? 'right' : 'left'}`,
    up: `${name} ${size} mm ${by > 0 ? 'up' : 'down'}`,
    depth: `${name} ${size} mm ${by > 0 ? 'forward' : 'back'}`,
    width: `front ${size} mm ${by > 0 ? 'wider' : 'narrower'}`,
    radius: `edges rounded by ${formatFixed(toMm, 0)} mm`,
  }[variable.what];
  const figures = [
    { told: 'axis', now: best.axisDb, then: without.axisDb },
    { told: 'window', now: best.windowDb, then: without.windowDb },
    { told: 'DI', now: best.directivityDb ?? 0, then: without.directivityDb ?? 0 },
  ].sort((a, b) => b.then - b.now - (a.then - a.now));
  const [most] = figures;
  return (
    <>
      {words}: {most.told} {db(most.now)} in the place of {db(most.then)} dB
    </>
  );
}

const Layout = styled.div`
  display: grid;
  gap: 0.6rem;
  li {
    font-size: ${({ theme }) => theme.size.small};
    padding: 0.1rem 0;
  }
`;

const Table = styled.table`
  ${tableLook}
`;
