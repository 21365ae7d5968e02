'use client';
import { partKinds, partValue } from '@/core/document/partKinds';
import { useState } from 'react';
import styled from 'styled-components';
import { partsOf, type Part } from '@/core/document/schema';
import { goalOf } from '@/core/fitting/goal';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useRegisterActions } from '@/desk/actions';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { useStartAction } from './useStartAction';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Button, PrimaryButton, TextButton } from '@/ui/Button';
import { ProgressBarWithStop } from '@/ui/ProgressBarWithStop';
import { Note, Quiet, Sentence } from '@/ui/sheets';
import { Tick } from '@/ui/fields/Tick';
import { PartLimitBlanks } from './PartLimitBlanks';
import { useSheetChoices } from './sheetChoices';
import { StockChoices } from './StockChoices';
import { FitAims } from './FitAims';
import { FitOutcomeNote, Omitted } from './FitOutcomeNote';
import { useFit } from './useFit';

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
  const [mayTurn, setMayTurn] = useState(true);
  const hasFloor = goal.limits.some(({ kind }) => kind === 'load');
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
        setFit(part, { isFree: isFreed }, isFreed ? 'free all parts' : 'fix all parts', key);
  };
  const start = () => {
    if (progress === null && free.length > 0) void fit({ seed, startCount, limits, mayTurn });
  };
  useRegisterActions(useStartAction('fit', 'Fit the free values', start));
  if (parts.length === 0)
    return <Quiet>There are no parts yet whose values could be fitted.</Quiet>;
  const isBusy = progress !== null;
  return (
    <>
      <h2>Fit the values</h2>
      <Row>
        <PrimaryButton isDisabled={free.length === 0} onPress={start}>
          Fit
        </PrimaryButton>
        <Button
          isDisabled={free.length === 0}
          onPress={() => !isBusy && void round(series, limits)}
        >
          Round to values one can buy
        </Button>
        <Button isDisabled={free.length < 2} onPress={() => !isBusy && void omit(worthDb, limits)}>
          Exclude parts that hardly matter
        </Button>
      </Row>
      {isBusy && <ProgressBarWithStop name="Fitting" percent={progress} onStop={stop} />}
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
      {!hasFloor && (
        <Note $kind="alarm">
          Nothing keeps the load from falling: no promise names a lowest impedance. Add one to the
          brief first, or check the load afterwards.
        </Note>
      )}
      {work && <FitOutcomeNote work={work} />}
      {omitted && <Omitted result={omitted} />}
      <Settings open={work === null && omitted === null}>
        <summary>What it works toward, and with what</summary>
        <FitAims goal={goal} />
        <Row>
          <TextButton onPress={() => freeAll(true)}>Free all</TextButton>
          <TextButton onPress={() => freeAll(false)}>Fix all</TextButton>
          <Quiet>
            {free.length} of {parts.length} parts are free
          </Quiet>
        </Row>
        <Tick isSelected={mayTurn} onChange={setMayTurn}>
          May turn ways round
        </Tick>
        <List aria-label="Parts to fit">
          {parts.map((part) => (
            <li key={part.id}>
              <Tick
                isSelected={part.fit.isFree && part.fit.tie === null}
                isDisabled={part.isLocked || part.fit.tie !== null}
                onChange={(isFreed) =>
                  setFit(part, { isFree: isFreed }, `${isFreed ? 'free' : 'fix'} ${part.name}`)
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
                  <TextButton onPress={() => setFit(part, { tie: null }, `unlink ${part.name}`)}>
                    unlink
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
        <StockChoices parts={free} series={series} onChange={(next) => set({ series: next })} />
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
      </Settings>
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
      label={`link ${part.name} to`}
      placeholder="link …"
      options={others.map(({ id, name }) => ({ id, text: `keep the ratio to ${name}` }))}
      value={null}
      onChange={(partId) => {
        const other = others.find(({ id }) => id === partId);
        if (other)
          onSet(
            part,
            { tie: { partId: other.id, ratio: partValue(part) / partValue(other) } },
            `link ${part.name} to ${other.name}`,
          );
      }}
    />
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
    align-items: center;
    gap: 0.4rem;
    font-size: ${({ theme }) => theme.size.small};
    border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
  }
`;

const Settings = styled.details`
  display: grid;
  gap: 0.6rem;
  & > summary {
    cursor: pointer;
    font-weight: 600;
  }
  &[open] > * + * {
    margin-top: 0.6rem;
  }
`;
