'use client';
import Link from 'next/link';
import { useMemo, useState } from 'react';
import { Button, DialogTrigger, Popover } from 'react-aria-components';
import styled, { css } from 'styled-components';
import { formatQuantity } from '@/core/units/quantity';
import { figureBeside, figureText, kinds, limitText } from '@/core/promises/kinds/kinds';
import type { JudgedPromise } from '@/core/promises/judgedPromises';
import type { Lever } from '@/core/promises/levers';
import { useElementWidth } from '@/ui/useElementSize';
import { shownOf } from './deskState';
import { useDesk, useDeskState } from './DeskContext';
import { stages } from './stages';

/** Room that one promise takes with its limit uncut, and that of the button for the rest. */
const markPx = 136;
const restPx = 104;

/**
 * Promises with present value, margin and movement since the pinned version: as many as fit, broken
 * ones first, the rest behind a press.
 */
export function PromiseStrip() {
  const { projectId } = useDesk();
  const promises = useDeskState((state) => shownOf(state).judged);
  const pinned = useDeskState((state) => state.pinned);
  const isFlipped = useDeskState((state) => state.isFlipped);
  const levers = useDeskState((state) => state.study?.levers);
  const [frame, widthPx] = useElementWidth<HTMLDivElement>();
  const [isOpen, setIsOpen] = useState(false);
  const before = useMemo(
    () =>
      new Map(
        pinned?.judged.map((judgedPromise) => [judgedPromise.promise.id, judgedPromise]) ?? [],
      ),
    [pinned],
  );
  const judged = promises.filter(({ verdict }) => verdict.isKept !== null);
  const kept = judged.filter(({ verdict }) => verdict.isKept);
  const shown = fitting(promises, Math.floor((widthPx - restPx) / markPx));
  const rest = promises.filter((one) => !shown.includes(one));
  const mark = (judgedPromise: JudgedPromise) => (
    <Mark
      key={judgedPromise.promise.id}
      judgedPromise={judgedPromise}
      before={isFlipped ? undefined : before.get(judgedPromise.promise.id)}
      levers={levers?.get(judgedPromise.promise.id) ?? []}
      projectId={projectId}
    />
  );
  return (
    <Strip aria-label="Promises" ref={frame}>
      <Head>
        <strong>Promises</strong>
        <span>
          {isFlipped
            ? `as pinned (r${pinned?.revision})`
            : promises.length === 0
              ? 'none yet'
              : `${kept.length} of ${judged.length} kept`}
        </span>
      </Head>
      {promises.length === 0 ? (
        <Invitation>
          <Link href={`/p/${projectId}/brief`}>Answer the Brief</Link>, and they are here with their
          figures.
        </Invitation>
      ) : (
        <ul aria-label="Promises, one after the other">{shown.map(mark)}</ul>
      )}
      {rest.length > 0 && (
        <DialogTrigger isOpen={isOpen} onOpenChange={setIsOpen}>
          <Rest>{restText(rest)}</Rest>
          <Popover placement="bottom end">
            {/* A promise leads to the place where it is mended: there the list is in the way. */}
            <Others onClick={() => setIsOpen(false)}>{rest.map(mark)}</Others>
          </Popover>
        </DialogTrigger>
      )}
    </Strip>
  );
}

/**
 * The promises that fit, in the order of all: broken ones before kept ones; those that wait take no
 * room.
 */
function fitting(judged: readonly JudgedPromise[], count: number): readonly JudgedPromise[] {
  const of = (isKept: boolean) => judged.filter(({ verdict }) => verdict.isKept === isKept);
  const chosen = new Set([...of(false), ...of(true)].slice(0, Math.max(0, count - 1)));
  return judged.filter((one) => chosen.has(one));
}

/** `3 more, 5 wait`: what is behind the press. */
function restText(rest: readonly JudgedPromise[]): string {
  const waiting = rest.filter(({ verdict }) => verdict.isKept === null).length;
  const more = rest.length - waiting;
  return [more > 0 ? `${more} more` : '', waiting > 0 ? `${waiting} wait` : '']
    .filter(Boolean)
    .join(', ');
}

interface MarkProps {
  readonly judgedPromise: JudgedPromise;
  readonly before: JudgedPromise | undefined;
  readonly levers: readonly Lever[];
  readonly projectId: string;
}

function Mark({ judgedPromise, before, levers, projectId }: MarkProps) {
  const { promise, verdict } = judgedPromise;
  const { title, decimals, scale, stage, meaning } = kinds[promise.kind];
  const figure = (value: number) => figureText(promise.kind, value);
  const change =
    verdict.value !== null && typeof before?.verdict.value === 'number'
      ? verdict.value - before.verdict.value
      : null;
  const isMoved = change !== null && Math.abs(change) >= 0.5 * 10 ** -decimals;
  const isBetter = isMoved && (verdict.margin ?? 0) > (before?.verdict.margin ?? 0);
  const limit = [
    promise.atLeast === null ? '' : `at least ${figure(promise.atLeast)}`,
    promise.atMost === null ? '' : `at most ${figure(promise.atMost)}`,
  ]
    .filter(Boolean)
    .join(', ');
  const place =
    verdict.atHz === null || kinds[promise.kind].unit === 'Hz'
      ? ''
      : ` at ${formatQuantity(Number(verdict.atHz.toPrecision(3)), 'hertz')}`;
  const basis = verdict.basis === undefined ? '' : `, ${verdict.basis}`;
  const cause = levers
    .map(({ partName, direction, gain }) => `${partName} ${direction} (${figure(gain)} for 10 %)`)
    .join(' or ');
  const state = verdict.isKept === null ? 'waits' : verdict.isKept ? 'kept' : 'broken';
  const href = stages.find(({ id, isBuilt }) => id === stage && isBuilt) ? stage : 'brief';
  const told = [
    `${meaning}: ${limit}.`,
    verdict.value === null
      ? `Needs ${verdict.needs}.`
      : `Now ${figureBeside(promise, verdict.value)}${place}${basis}, ${state}.`,
    isMoved ? `${isBetter ? 'Better' : 'Worse'} by ${figure(Math.abs(change))} than pinned.` : '',
    cause && state === 'broken' ? `What moves it most: ${cause}.` : '',
  ]
    .filter(Boolean)
    .join(' ');
  return (
    <Item>
      <Link
        href={`/p/${projectId}/${href}`}
        prefetch={false}
        title={told}
        aria-label={`${title}. ${told}`}
        data-promise={promise.id}
        data-state={state}
      >
        <span>{title}</span>
        <Scale margin={verdict.margin} scale={scale} />
        <output aria-hidden>
          {verdict.value === null ? '–' : figureBeside(promise, verdict.value)}
          {isMoved && <small data-better={isBetter}>{isBetter ? '▲' : '▼'}</small>}
        </output>
        <em>
          {verdict.value === null ? `needs ${verdict.needs}` : limitText(promise)}
          {verdict.basis !== undefined && ' *'}
        </em>
      </Link>
    </Item>
  );
}

/** The limit is at two thirds; to its right the promise is broken. */
const limitAt = 0.68;

function Scale({ margin, scale }: { readonly margin: number | null; readonly scale: number }) {
  const at =
    margin === null ? null : Math.min(1, Math.max(0, limitAt - (limitAt * margin) / (2 * scale)));
  return (
    <svg viewBox="0 0 100 8" width="100%" height="8" preserveAspectRatio="none" aria-hidden>
      <path d="M0 4H100" stroke="var(--rule)" strokeWidth="1" vectorEffect="non-scaling-stroke" />
      <path
        d={`M${limitAt * 100} 4H100`}
        stroke="var(--alarm)"
        strokeOpacity="0.35"
        strokeWidth="4"
      />
      <path
        d={`M${limitAt * 100} 0V8`}
        stroke="var(--ink)"
        strokeWidth="1.5"
        vectorEffect="non-scaling-stroke"
      />
      {at !== null && (
        <path
          d={`M${at * 100} 4h.01`}
          stroke={at > limitAt ? 'var(--alarm)' : 'var(--accent)'}
          strokeWidth="8"
          strokeLinecap="round"
          vectorEffect="non-scaling-stroke"
        />
      )}
    </svg>
  );
}

const Strip = styled.section`
  grid-column: 1 / -1;
  display: flex;
  align-items: stretch;
  min-width: 0;
  background: ${({ theme }) => theme.colour.sheet};
  border-bottom: 1px solid ${({ theme }) => theme.colour.rule};
  font-size: ${({ theme }) => theme.size.small};
  > ul {
    display: flex;
    flex: 1;
    min-width: 0;
  }
  > ul > li {
    flex: 1 0 0;
    max-width: 14rem;
    min-width: 0;
    border-left: 1px solid ${({ theme }) => theme.colour.rule};
  }
`;

const markLook = css`
  a {
    display: grid;
    grid-template: 1rem 8px 1.05rem / auto minmax(0, 1fr);
    align-content: center;
    column-gap: 0.3rem;
    height: 100%;
    padding: 0 0.6rem;
    color: inherit;
    text-decoration: none;
    &:focus-visible {
      outline-offset: -2px;
    }
    &:hover {
      background: ${({ theme }) => theme.colour.accentWash};
    }
    > * {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    > span,
    > svg {
      grid-column: 1 / -1;
    }
    > svg {
      overflow: visible;
    }
    output {
      font-family: ${({ theme }) => theme.font.figures};
      font-weight: 600;
    }
    small {
      font-size: 0.6rem;
      margin-left: 0.15rem;
      color: ${({ theme }) => theme.colour.alarm};
      &[data-better='true'] {
        color: ${({ theme }) => theme.colour.accent};
      }
    }
    em {
      align-self: baseline;
      font-style: normal;
      font-size: 0.6563rem;
      color: ${({ theme }) => theme.colour.quiet};
    }
    &[data-state='broken'] output {
      color: ${({ theme }) => theme.colour.alarm};
    }
  }
`;

const Item = styled.li`
  ${markLook}
`;

const Rest = styled(Button)`
  flex: none;
  width: ${restPx}px;
  border: 0;
  border-left: 1px solid ${({ theme }) => theme.colour.rule};
  background: none;
  color: ${({ theme }) => theme.colour.quiet};
  font: inherit;
  cursor: pointer;
  &:hover {
    background: ${({ theme }) => theme.colour.accentWash};
  }
  &[data-focus-visible] {
    outline-offset: -2px;
  }
`;

const Others = styled.ul`
  width: 21rem;
  max-height: 70vh;
  overflow: auto;
  background: ${({ theme }) => theme.colour.sheet};
  border: 1px solid ${({ theme }) => theme.colour.rule};
  border-radius: 3px;
  box-shadow: 0 6px 24px rgb(0 0 0 / 0.18);
  font-size: ${({ theme }) => theme.size.small};
  li + li {
    border-top: 1px solid ${({ theme }) => theme.colour.grid};
  }
  li a {
    padding: 0.35rem 0.8rem;
    > * {
      white-space: normal;
    }
  }
`;

const Head = styled.div`
  width: 138px;
  flex: none;
  display: grid;
  align-content: center;
  padding: 0 1rem;
  span {
    color: ${({ theme }) => theme.colour.quiet};
  }
`;

const Invitation = styled.p`
  align-self: center;
  padding: 0 1rem;
  border-left: 1px solid ${({ theme }) => theme.colour.rule};
  color: ${({ theme }) => theme.colour.quiet};
`;
