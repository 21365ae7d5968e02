'use client';
import { useMemo, useState } from 'react';
import styled from 'styled-components';
import { boxKinds, mostBoxes, type Box, type BoxKind } from '@/core/document/boxSchema';
import { boxKindWords } from '@/core/told/boxes';
import type { Design } from '@/core/document/schema';
import {
  firstBox,
  proportionsFor,
  startingBoxes,
  sweptBoxes,
  sweptVariables,
  type SweptVariable,
} from '@/core/lows/candidates';
import type { BoxFound, BoxWish } from '@/core/lows/boxJudge';
import type { BoxView } from '@/core/lows/view';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { useDesk } from '@/desk/DeskContext';
import { Button, PrimaryButton, TextButton } from '@/ui/Button';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Tick } from '@/ui/fields/Tick';
import { newId } from '@/ui/newId';
import { ProgressBarWithStop } from '@/ui/ProgressBarWithStop';
import { Note, Quiet, Sentence, tableLook } from '@/ui/sheets';
import type { Family } from '@/stages/box/useBoxWork';
import { useBoxSearch } from '@/stages/box/useBoxSearch';
import type { BoxesLookedAt } from '@/workers/boxClient';

interface FindPaneProps {
  readonly design: Design;
  readonly box: Box;
  readonly view: BoxView | null;
  readonly looked: BoxesLookedAt | null;
  readonly onFamily: (family: Family) => void;
  readonly onDrawn: (id: string) => void;
}

/** Ways to a box: a search for the brief, textbook alignments, a sweep, proportions. */
export function FindPane({ design, box, view, looked, onFamily, onDrawn }: FindPaneProps) {
  const desk = useDesk();
  /** Keeps a box as a candidate of its own name. */
  const keep = (found: Box, label: string) => {
    if (desk.store.getState().design.boxes.length >= mostBoxes) return;
    const id = newId('box');
    const { name } = firstBox(desk.store.getState().design, id);
    desk.change({ type: 'setBox', box: { ...found, id, name, isUsed: false } }, label);
    onDrawn(id);
  };
  const isFull = design.boxes.length >= mostBoxes;
  return (
    <Layout>
      {isFull && (
        <Note $kind="doubt">
          A design keeps {mostBoxes} boxes: remove one before another is kept.
        </Note>
      )}
      <SearchPart design={design} box={box} onKeep={(found) => keep(found, 'keep a found box')} />
      <StartingPart
        {...{ design, box }}
        seriesOhms={looked?.seriesOhms ?? 0}
        onKeep={(found) => keep(found, 'keep a textbook box')}
      />
      <SweepPart {...{ design, box, onFamily }} tunedHz={view?.tunedHz ?? null} />
      <ProportionPart design={design} box={box} />
    </Layout>
  );
}

function SearchPart({
  design,
  box,
  onKeep,
}: {
  readonly design: Design;
  readonly box: Box;
  readonly onKeep: (box: Box) => void;
}) {
  const { brief } = design;
  const { progress, found, trouble, search, stop } = useBoxSearch();
  const [kinds, setKinds] = useState<readonly BoxKind[]>(['sealed', 'vented']);
  const [size, setSize] = useState({
    widthMm: brief.widthMm ?? box.shell.widthMm,
    heightMm: brief.heightMm ?? box.shell.heightMm,
    deepestMm: brief.depthMm ?? box.shell.depthMm,
  });
  const [humpDb, setHump] = useState(1.5);
  const [mostOutlay, setMostOutlay] = useState<number | null>(null);
  const wish: BoxWish = {
    ...{ kinds, ...size, humpDb, mostOutlay },
    ...{ f3Hz: brief.reach3Hz, f10Hz: brief.reach10Hz },
  };
  const mm = (label: string, key: keyof typeof size) => (
    <QuantityBlank
      label={label}
      dimension="millimetre"
      min={60}
      max={3000}
      stepBy={5}
      value={size[key]}
      onChange={(value) => value !== null && setSize((before) => ({ ...before, [key]: value }))}
    />
  );
  return (
    <section aria-label="Search for the brief">
      <h3>Best for the brief</h3>
      <Sentence>
        At most {mm('Widest', 'widthMm')} wide, {mm('Highest', 'heightMm')} high,{' '}
        {mm('Deepest', 'deepestMm')} deep outside, with a hump of at most{' '}
        <QuantityBlank
          label="Highest hump"
          dimension="decibel"
          min={0}
          max={12}
          stepBy={0.5}
          value={humpDb}
          onChange={(value) => value !== null && setHump(value)}
        />
        ; boards, fill and opening for at most {brief.currency}{' '}
        <QuantityBlank
          label="Most money for the box"
          placeholder="any sum"
          dimension="number"
          min={1}
          max={1e5}
          stepBy={5}
          value={mostOutlay}
          onChange={setMostOutlay}
        />
        {brief.reach3Hz === null && brief.reach10Hz === null
          ? '; the brief asks for no F3, so the lowest is looked for.'
          : `; the brief asks for${brief.reach3Hz === null ? '' : ` F3 ${formatNumber(brief.reach3Hz)} Hz`}${brief.reach3Hz !== null && brief.reach10Hz !== null ? ' and' : ''}${brief.reach10Hz === null ? '' : ` F10 ${formatNumber(brief.reach10Hz)} Hz`}.`}
      </Sentence>
      <Ticks role="group" aria-label="Kinds that are searched">
        {boxKinds.map((kind) => (
          <Tick
            key={kind}
            isSelected={kinds.includes(kind)}
            onChange={(isIn) =>
              setKinds(isIn ? [...kinds, kind] : kinds.filter((other) => other !== kind))
            }
          >
            {boxKindWords[kind]}
          </Tick>
        ))}
      </Ticks>
      {progress ? (
        <>
          <ProgressBarWithStop
            name="Search for boxes"
            percent={Math.round(100 * progress.share)}
            onStop={stop}
          />
          <Quiet role="status">
            {progress.told}
            {progress.best?.f3Hz ? `; best so far F3 ${formatFixed(progress.best.f3Hz, 0)} Hz` : ''}
          </Quiet>
        </>
      ) : (
        <PrimaryButton isDisabled={kinds.length === 0} onPress={() => search(box, wish)}>
          Search boxes
        </PrimaryButton>
      )}
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
      {found?.length === 0 && (
        <Note $kind="doubt">
          Nothing was found: the drivers of this box lack figures, or the size leaves no room.
        </Note>
      )}
      {found && found.length > 0 && <FoundTable currency={brief.currency} {...{ found, onKeep }} />}
    </section>
  );
}

const number = (value: number | null, decimals = 0) =>
  value === null ? '–' : formatFixed(value, decimals);

/** The trade: of each kind what every size gives. */
function FoundTable({
  currency,
  found,
  onKeep,
}: {
  readonly currency: string;
  readonly found: readonly BoxFound[];
  readonly onKeep: (box: Box) => void;
}) {
  const [isAll, setIsAll] = useState(false);
  const shown = isAll ? found : found.slice(0, 6);
  return (
    <>
      <Table aria-label="Boxes that were found">
        <thead>
          <tr>
            <th>kind</th>
            <th>net l</th>
            <th>F3</th>
            <th>F10</th>
            <th>hump</th>
            <th>ms</th>
            <th>clean dB</th>
            <th>{currency}</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {shown.map((one) => (
            <tr key={`${one.box.kind} ${one.netLitres}`} data-kept={one.isKept || undefined}>
              <th scope="row">
                {boxKindWords[one.box.kind]}
                {one.box.kind === 'vented' && (
                  <small>
                    {' '}
                    {one.box.port.count > 1 ? `${one.box.port.count}×` : ''}⌀
                    {one.box.port.diameterMm}
                  </small>
                )}
                <Quiet as="div">{one.isKept ? 'kept' : (one.faults.at(0) ?? 'not as low')}</Quiet>
              </th>
              <td>{number(one.netLitres, 1)}</td>
              <td>{number(one.f3Hz)}</td>
              <td>{number(one.f10Hz)}</td>
              <td>{number(one.humpDb, 1)}</td>
              <td>{number(one.groupDelayMs)}</td>
              <td>{number(one.cleanDb)}</td>
              <td>{number(one.outlay)}</td>
              <td>
                <TextButton
                  aria-label={`Keep ${boxKindWords[one.box.kind]}, ${number(one.netLitres, 1)} l`}
                  onPress={() => onKeep(one.box)}
                >
                  Keep
                </TextButton>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {found.length > shown.length && (
        <TextButton onPress={() => setIsAll(true)}>All {found.length}</TextButton>
      )}
      <Quiet as="p">
        {found.some(({ isKept }) => isKept)
          ? 'Kept: F3 and F10 as asked, the hump and the money within what is put up with; cone and passive cone within Xmax and the port quiet at the loudness of the brief; a port that fits, is not narrow for what the cone displaces, and a depth that the drivers fit in.'
          : 'None keeps all that is asked for; the nearest come first.'}{' '}
        Clean: as beside the section. {currency}: boards, fill and opening of one box.
      </Quiet>
    </>
  );
}

function StartingPart({
  design,
  box,
  seriesOhms,
  onKeep,
}: {
  readonly design: Design;
  readonly box: Box;
  readonly seriesOhms: number;
  readonly onKeep: (box: Box) => void;
}) {
  const starting = useMemo(() => startingBoxes(design, box, seriesOhms), [design, box, seriesOhms]);
  return (
    <details>
      <summary>Textbook alignments</summary>
      {starting.map(({ told, assumes, box: found }) => (
        <p key={told}>
          {told}{' '}
          <TextButton aria-label={`Keep ${told}`} onPress={() => onKeep(found)}>
            Keep
          </TextButton>
          <br />
          <Quiet>{assumes}</Quiet>
        </p>
      ))}
      {starting.length === 0 && (
        <Quiet>They follow from fs, Qes, Qms, Vas, Sd and Re of the driver.</Quiet>
      )}
    </details>
  );
}

function SweepPart({
  design,
  box,
  tunedHz,
  onFamily,
}: {
  readonly design: Design;
  readonly box: Box;
  readonly tunedHz: number | null;
  readonly onFamily: (family: Family) => void;
}) {
  const [what, setWhat] = useState<SweptVariable>('volume');
  const sweep = () => {
    const family = sweptBoxes(design, box, what, tunedHz);
    onFamily({
      names: family.map(({ told }) => told),
      boxes: family.map(({ box: one }, k) => ({ ...one, id: `swept-${k}` })),
    });
  };
  return (
    <Sentence>
      Show the family of this box over its{' '}
      <ChoiceBlank
        label="Swept"
        isAlwaysSaid
        options={sweptVariables.map((id) => ({ id, text: id }))}
        value={what}
        onChange={(next) => next !== null && setWhat(next)}
      />{' '}
      <Button isDisabled={what === 'tuning' && tunedHz === null} onPress={sweep}>
        Sweep
      </Button>
    </Sentence>
  );
}

function ProportionPart({ design, box }: { readonly design: Design; readonly box: Box }) {
  const desk = useDesk();
  const most = design.brief.heightMm ?? 1.3 * box.shell.heightMm;
  const [now, ...others] = useMemo(() => proportionsFor(design, box, most), [design, box, most]);
  if (!now) return null;
  const percent = (share: number) => `${formatFixed(100 * share, 0)} %`;
  return (
    <details>
      <summary>Proportions against standing waves</summary>
      <p>
        As it is, the two nearest of its lowest standing waves are {percent(now.apart)} apart. Same
        volume and width:
      </p>
      {others.map(({ heightMm, depthMm, apart }) => (
        <p key={heightMm}>
          {formatNumber(heightMm)} × {formatNumber(depthMm)} mm: {percent(apart)}{' '}
          <TextButton
            aria-label={`Take ${heightMm} × ${depthMm} mm`}
            onPress={() =>
              desk.change(
                {
                  type: 'setBox',
                  box: { ...box, shell: { ...box.shell, heightMm, depthMm } },
                },
                'proportions',
              )
            }
          >
            Take them
          </TextButton>
        </p>
      ))}
      {others.length === 0 && (
        <Quiet>No height and depth of this volume set them further apart.</Quiet>
      )}
    </details>
  );
}

const Ticks = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 0.9rem;
  margin: 0.4rem 0;
`;

const Table = styled.table`
  ${tableLook}
  font-variant-numeric: tabular-nums;
  margin-top: 0.5rem;
  th,
  td {
    padding-right: 0.35rem;
  }
  [data-kept] {
    th,
    td {
      font-weight: 600;
    }
  }
`;

const Layout = styled.div`
  display: grid;
  gap: 0.9rem;
  h3 {
    margin-bottom: 0.3rem;
  }
  summary {
    cursor: pointer;
    font-weight: 600;
    font-size: 0.8125rem;
  }
  details p {
    font-size: 0.8125rem;
    margin-top: 0.4rem;
  }
`;
