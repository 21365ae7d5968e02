'use client';
import { partKinds, partValue } from '@/core/document/partKinds';
import { useState } from 'react';
import styled from 'styled-components';
import { partsOf, type Part } from '@/core/document/schema';
import type { FewerResult } from '@/core/fitting/fewer';
import { goalOf, type Goal } from '@/core/fitting/goal';
import type { FitFigures } from '@/core/fitting/model';
import type { PromiseKind } from '@/core/document/briefSchema';
import { figureText, kinds, limitText } from '@/core/promises/kinds/kinds';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Button, PrimaryButton, TextButton } from '@/ui/Button';
import { ProgressBarWithStop } from '@/ui/ProgressBarWithStop';
import { Note, Quiet, tableLook, Sentence } from '@/ui/sheets';
import { Tick } from '@/ui/fields/Tick';
import { PartLimitBlanks } from './PartLimitBlanks';
import { useSheetChoices } from './sheetChoices';
import { StockChoices } from './StockChoices';
import { useFit, type FitWork } from './useFit';

/**
 * Lets the computer find values: which parts it may move, what it works toward, what came of it.
 */
export function FitSheet() {
  const desk = useDesk();
  const design = useDeskState((state) => state.design);
  const { series, limits, set } = useSheetChoices();
  const goal = goalOf(design, limits);
  const { progress, work, omitted, trouble, stop, fit, round, omit } = useFit();
  const [worthDb, setWorthDb] = useState(0.05);
  const [seed, setSeed] = useState(1);
  const [startCount, setStartCount] = useState(8);
  // A way that mirrors another has nothing of its own to fit.
  const parts = partsOf({
    ...design,
    ways: design.ways.filter(({ mirrorOf }) => mirrorOf === undefined),
  });
  const free = parts.filter(isFree);
  const setFit = (part: Part, set: Partial<Part['fit']>, label: string, mergeKey?: string) =>
    desk.change(
      { type: 'editPart', id: part.id, set: { fit: { ...part.fit, ...set } } },
      label,
      mergeKey,
    );
  const freeAll = (isFreed: boolean) => {
    const key = `free all ${crypto.randomUUID()}`;
    for (const part of parts)
      if (part.fit.isFree !== isFreed)
        setFit(part, { isFree: isFreed }, isFreed ? 'free all parts' : 'hold all parts', key);
  };
  if (parts.length === 0)
    return <Quiet>There are no parts yet whose values could be fitted.</Quiet>;
  const isBusy = progress !== null;
  return (
    <>
      <h2>Fit the values</h2>
      <Quiet>
        Works toward <Aims goal={goal} />
      </Quiet>
      <Row>
        <TextButton onPress={() => freeAll(true)}>Free all</TextButton>
        <TextButton onPress={() => freeAll(false)}>Hold all</TextButton>
        <Quiet>
          {free.length} of {parts.length} parts are free
        </Quiet>
      </Row>
      <List aria-label="Parts to fit">
        {parts.map((part) => (
          <li key={part.id}>
            <Tick
              isSelected={part.fit.isFree && part.fit.tie === null}
              isDisabled={part.isLocked || part.fit.tie !== null}
              onChange={(isFreed) =>
                setFit(part, { isFree: isFreed }, `${isFreed ? 'free' : 'hold'} ${part.name}`)
              }
            >
              {part.name}
            </Tick>
            <span>
              {formatQuantity(
                Number(partValue(part).toPrecision(3)),
                partKinds[part.kind].dimension,
              )}
            </span>
            {isFree(part) && <Bounds part={part} onSet={setFit} />}
            {part.fit.tie === null ? (
              <Ties part={part} parts={parts} onSet={setFit} />
            ) : (
              <Quiet>
                {formatFixed(part.fit.tie.ratio, 2)} × {nameOf(parts, part.fit.tie.partId)}{' '}
                <TextButton onPress={() => setFit(part, { tie: null }, `untie ${part.name}`)}>
                  untie
                </TextButton>
              </Quiet>
            )}
          </li>
        ))}
      </List>
      <Sentence>
        From{' '}
        <QuantityBlank
          label="number of starts"
          value={startCount}
          dimension="number"
          min={1}
          max={200}
          stepBy={1}
          onChange={(next) => next !== null && setStartCount(Math.round(next))}
        />{' '}
        starts, drawn with seed{' '}
        <QuantityBlank
          label="seed"
          value={seed}
          dimension="number"
          min={0}
          max={9999}
          stepBy={1}
          onChange={(next) => next !== null && setSeed(Math.round(next))}
        />
        .
      </Sentence>
      <PartLimitBlanks />
      <Row>
        <PrimaryButton
          isDisabled={isBusy || free.length === 0}
          onPress={() => void fit({ seed, startCount, limits })}
        >
          Fit
        </PrimaryButton>
      </Row>
      {isBusy && <ProgressBarWithStop name="Fitting" percent={progress} onStop={stop} />}
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
      {work && <Outcome work={work} />}
      <StockChoices parts={free} series={series} onChange={(next) => set({ series: next })} />
      <Row>
        <Button isDisabled={isBusy || free.length === 0} onPress={() => void round(series, limits)}>
          Round to values one can buy
        </Button>
      </Row>
      <Sentence>
        Each part is worth at least{' '}
        <QuantityBlank
          label="worth of a part"
          value={worthDb}
          dimension="decibel"
          min={0.001}
          max={3}
          stepBy={0.05}
          onChange={(next) => next !== null && setWorthDb(next)}
        />{' '}
        of what the fit makes small; those that are not may go.
      </Sentence>
      <Row>
        <Button isDisabled={isBusy || free.length < 2} onPress={() => void omit(worthDb, limits)}>
          Exclude parts that hardly matter
        </Button>
      </Row>
      {omitted && <Omitted result={omitted} />}
    </>
  );
}

const isFree = ({ fit, isLocked, isOff }: Part) =>
  fit.isFree && fit.tie === null && !isLocked && !isOff;

const nameOf = (parts: readonly Part[], id: string) => parts.find((part) => part.id === id)?.name;

type SetFit = (part: Part, set: Partial<Part['fit']>, label: string, mergeKey?: string) => void;

function Bounds({ part, onSet }: { readonly part: Part; readonly onSet: SetFit }) {
  const bound = (which: 'lowest' | 'highest', words: string) => (
    <QuantityBlank
      label={`${words} value of ${part.name}`}
      placeholder={words}
      value={part.fit[which]}
      dimension={partKinds[part.kind].dimension}
      min={1e-9}
      max={1e6}
      stepBy={partValue(part) / 10}
      onChange={(value) => onSet(part, { [which]: value }, `bounds of ${part.name}`)}
    />
  );
  return (
    <span>
      {bound('lowest', 'least')} – {bound('highest', 'most')}
    </span>
  );
}

function Ties({
  part,
  parts,
  onSet,
}: {
  readonly part: Part;
  readonly parts: readonly Part[];
  readonly onSet: SetFit;
}) {
  const others = parts.filter(
    (other) => other.kind === part.kind && other.id !== part.id && other.fit.tie === null,
  );
  const isLeading = parts.some(({ fit }) => fit.tie?.partId === part.id);
  if (others.length === 0 || isLeading) return null;
  return (
    <ChoiceBlank
      label={`tie ${part.name} to`}
      placeholder="tie …"
      options={others.map(({ id, name }) => ({ id, text: `keep its ratio to ${name}` }))}
      value={null}
      onChange={(partId) => {
        const other = others.find(({ id }) => id === partId);
        if (other)
          onSet(
            part,
            { tie: { partId: other.id, ratio: partValue(part) / partValue(other) } },
            `tie ${part.name} to ${other.name}`,
          );
      }}
    />
  );
}

/** What a fit works toward, each with how much it counts. */
function Aims({ goal }: { readonly goal: Goal }) {
  const { onAxis, load, equivalent, tracking, sensitivity, seatLevel, drivers } = goal;
  const { ways, window, heat, outlay } = goal;
  const hz = (value: number) => formatQuantity(value, 'hertz');
  const counts = ({ weight }: { readonly weight: number }) => ` (×${formatFixed(weight, 1)})`;
  return [
    `an even response from ${hz(onAxis.band.fromHz)} to ${hz(onAxis.band.toHz)}${counts(onAxis)}`,
    load && `|Z| above ${formatFixed(load.leastOhms, 1)} Ω${counts(load)}`,
    equivalent &&
      `equivalent resistance above ${formatFixed(equivalent.leastOhms, 1)} Ω${counts(equivalent)}`,
    tracking && `neighbours within ${formatFixed(tracking.mostDeg, 0)}°${counts(tracking)}`,
    sensitivity && `${formatFixed(sensitivity.leastDb, 1)} dB in the middle${counts(sensitivity)}`,
    seatLevel && `the level at the seat${counts(seatLevel)}`,
    drivers?.power && `drivers within their rated power${counts(drivers.power)}`,
    drivers?.excursion &&
      `drivers within Xmax at the loudness asked for${counts(drivers.excursion)}`,
    window && `the listening window within ${formatFixed(window.withinDb, 1)} dB${counts(window)}`,
    heat && `no resistor above ${formatFixed(heat.mostWatts, 1)} W${counts(heat)}`,
    outlay && `parts for at most ${formatFixed(outlay.most, 0)}${counts(outlay)}`,
    ways.length > 0 && `the slopes of ${ways.length} of the ways${counts(ways[0])}`,
  ]
    .filter(Boolean)
    .join('; ')
    .concat('. What counts how much follows from the weights of the promises.');
}

function Outcome({ work: { what, outcome, before, after } }: { readonly work: FitWork }) {
  const { best, evaluations, isStopped } = outcome;
  if (!best)
    return (
      <Note $kind="plain">
        {isStopped
          ? 'Stopped before anything better was found.'
          : 'Nothing better was found: the values stay.'}
      </Note>
    );
  // Promises are judged by the strip's own measure; what nobody can promise yet comes from the fit.
  const others: readonly (readonly [string, (figures: FitFigures) => string | null])[] = [
    ['on axis, rms', ({ rmsDb }) => `${formatFixed(rmsDb, 2)} dB`],
    ['cost of parts', ({ outlay }) => formatFixed(outlay, 0)],
    [
      'hottest resistor',
      ({ hottestWatts }) => (hottestWatts === null ? null : `${formatFixed(hottestWatts, 1)} W`),
    ],
  ];
  const was = new Map(before.map(({ promise, verdict }) => [promise.id, verdict.value]));
  const told = (kind: PromiseKind, value: number | null | undefined) =>
    value === null || value === undefined ? '' : figureText(kind, value, 1);
  return (
    <Note $kind="plain">
      {isStopped ? 'Stopped; the best so far is on the desk. ' : ''}
      {what === 'fit' ? 'Fitted' : 'Rounded'}
      {evaluations > 0 && ` with ${evaluations.toLocaleString('en')} networks solved`}. Undo takes
      all of it back.
      <Table aria-label="What came of it">
        <tbody>
          {after.map(({ promise, verdict }) => (
            <tr key={promise.id} data-kept={verdict.isKept}>
              <th scope="row">{kinds[promise.kind].title}</th>
              <td>{told(promise.kind, was.get(promise.id))}</td>
              <td>
                → {told(promise.kind, verdict.value)}
                {verdict.isKept === false && ` (promised ${limitText(promise)})`}
              </td>
            </tr>
          ))}
          {others.map(([name, text]) => {
            const later = text(best.figures);
            return later === null ? null : (
              <tr key={name}>
                <th scope="row">{name}</th>
                <td>{outcome.before ? text(outcome.before.figures) : ''}</td>
                <td>→ {later}</td>
              </tr>
            );
          })}
        </tbody>
      </Table>
    </Note>
  );
}

function Omitted({ result: { omissions, before, after } }: { readonly result: FewerResult }) {
  if (omissions.length === 0)
    return <Note $kind="plain">Every free part is worth more than that: all of them stay.</Note>;
  const change = (db: number) =>
    Math.abs(db) < 0.005 ? '0.00' : `${db < 0 ? '−' : '+'}${formatFixed(Math.abs(db), 2)}`;
  const told = omissions.map(({ partName, addedDb }) => `${partName} (${change(addedDb)} dB)`);
  return (
    <Note $kind="plain">
      Excluded, not removed: {told.join(', ')}. On axis ±
      {formatFixed(before.figures.deviationDb, 2)} dB → ±{formatFixed(after.figures.deviationDb, 2)}{' '}
      dB. Undo takes all of it back.
    </Note>
  );
}

const Row = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0.5rem;
`;

const List = styled.ul`
  display: grid;
  gap: 0.3rem;
  li {
    display: grid;
    grid-template-columns: 4.2rem 4.6rem 1fr auto;
    align-items: baseline;
    gap: 0.4rem;
    font-size: ${({ theme }) => theme.size.small};
    border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
  }
`;

const Table = styled.table`
  ${tableLook}
`;
