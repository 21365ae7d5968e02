'use client';
import { newId } from '@/ui/newId';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import styled from 'styled-components';
import { promiseKinds, type PromiseEntry, type PromiseKind } from '@/core/document/briefSchema';
import { figureBeside, kinds } from '@/core/promises/kinds/kinds';
import { derivedKinds } from '@/core/promises/promisesOf';
import type { JudgedPromise } from '@/core/promises/judgedPromises';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { QuantityBlank } from '@/ui/fields/Blank';
import { Button } from '@/ui/Button';
import { Choice } from '@/ui/fields/Choice';
import { Quiet } from '@/ui/sheets';
import { Card } from './Sheets';

/**
 * All promises: what they follow from, their limits and weights, each adjustable; others may be
 * added by hand.
 */
export function PromiseTable() {
  const desk = useDesk();
  const judged = useDeskState((state) => state.judged);
  const entries = useDeskState((state) => state.design.promises);
  const design = useDeskState((state) => state.design);
  const off = entries.filter(({ isOff }) => isOff);
  const fromBrief = new Set<string>(derivedKinds(design));
  return (
    <Card aria-label="Promises of the brief">
      <header>
        <h3>Promises</h3>
        <Quiet>they follow from the answers; a limit changed here stays as it was set</Quiet>
        <AddPromise />
      </header>
      {judged.length === 0 ? (
        <Quiet>None yet. Answer a question above, or add one by hand.</Quiet>
      ) : (
        <Table>
          <thead>
            <tr>
              <th scope="col">promise</th>
              <th scope="col">at least</th>
              <th scope="col">at most</th>
              <th scope="col">from, to</th>
              <th scope="col">weight</th>
              <th scope="col">now</th>
              <th scope="col">source</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {judged.map((judgedPromise) => (
              <PromiseRow
                key={judgedPromise.promise.id}
                judgedPromise={judgedPromise}
                entry={entries.find(({ id }) => id === judgedPromise.promise.id)}
                isDerived={fromBrief.has(judgedPromise.promise.id)}
              />
            ))}
          </tbody>
        </Table>
      )}
      {off.length > 0 && (
        <Off>
          Switched off:{' '}
          {off.map(({ id, kind }) => (
            <Button
              key={id}
              onPress={() =>
                desk.change({ type: 'removePromise', id }, `promise again: ${kinds[kind].title}`)
              }
            >
              bring back {kinds[kind].title}
            </Button>
          ))}
        </Off>
      )}
    </Card>
  );
}

const blank = (id: string, kind: PromiseKind): PromiseEntry => ({
  id,
  kind,
  isOff: false,
  atLeast: null,
  atMost: null,
  fromHz: null,
  toHz: null,
  angle: kinds[kind].hasAngle ? { plane: 'horizontal', degrees: 30 } : null,
  weight: null,
});

function AddPromise() {
  const desk = useDesk();
  const [kind, setKind] = useState<PromiseKind>('lowest-impedance');
  return (
    <Adding>
      <Choice<PromiseKind>
        label="Kind of promise to add"
        hideLabel
        options={promiseKinds.map((id) => ({ id, text: kinds[id].title }))}
        value={kind}
        onChange={setKind}
      />
      <Button
        onPress={() =>
          desk.change(
            { type: 'setPromise', entry: blank(newId('own'), kind) },
            `promise: ${kinds[kind].title}`,
          )
        }
      >
        Add a promise
      </Button>
    </Adding>
  );
}

interface RowProps {
  readonly judgedPromise: JudgedPromise;
  readonly entry: PromiseEntry | undefined;
  readonly isDerived: boolean;
}

function PromiseRow({ judgedPromise: { promise, verdict }, entry, isDerived }: RowProps) {
  const desk = useDesk();
  const currency = useDeskState((state) => state.design.brief.currency);
  const { title, meaning, dimension, unit, scale, hasBand } = kinds[promise.kind];
  const adjust = (set: Partial<PromiseEntry>, what: string) =>
    desk.change(
      {
        type: 'setPromise',
        entry: {
          ...(entry ?? {
            ...blank(promise.id, promise.kind),
            angle: promise.angle,
            atLeast: promise.atLeast,
            atMost: promise.atMost,
          }),
          ...set,
        },
      },
      `promise: ${title}`,
      `promise ${promise.id} ${what}`,
    );
  // A bare number says nothing: what is counted is behind it.
  const counted = promise.kind === 'cost' ? currency : dimension === 'number' ? unit : '';
  const limit = (which: 'atLeast' | 'atMost') => (
    <>
      <QuantityBlank
        label={`${title}: ${which === 'atLeast' ? 'at least' : 'at most'}`}
        value={promise[which]}
        dimension={dimension}
        min={-1000}
        max={1e6}
        stepBy={scale / 20}
        onChange={(value) => adjust({ [which]: value }, which)}
        placeholder="–"
      />
      {promise[which] !== null && counted !== '' && ` ${counted}`}
    </>
  );
  const edge = (which: 'fromHz' | 'toHz') => (
    <QuantityBlank
      label={`${title}: ${which === 'fromHz' ? 'from' : 'to'}`}
      value={promise.band?.[which] ?? null}
      dimension="hertz"
      min={10}
      max={40_000}
      stepBy={which === 'fromHz' ? 10 : 500}
      onChange={(value) => adjust({ [which]: value }, which)}
    />
  );
  const { answers, arithmetic, isAdjusted } = promise.source;
  const chartFiles = () =>
    isDerived
      ? adjust({ isOff: true }, 'off')
      : desk.change({ type: 'removePromise', id: promise.id }, `no promise: ${title}`);
  return (
    <tr>
      <th scope="row" title={meaning}>
        {title}
      </th>
      <td>{limit('atLeast')}</td>
      <td>{limit('atMost')}</td>
      <td>
        {hasBand && (
          <>
            {edge('fromHz')} {edge('toHz')}
          </>
        )}
        {promise.angle && (
          <>
            {' '}
            <Choice<'horizontal' | 'vertical'>
              label={`${title}: plane`}
              hideLabel
              options={[
                { id: 'horizontal', text: 'to the side' },
                { id: 'vertical', text: 'up' },
              ]}
              value={promise.angle.plane}
              onChange={(plane) =>
                adjust({ angle: { plane, degrees: promise.angle?.degrees ?? 0 } }, 'plane')
              }
            />
            <QuantityBlank
              label={`${title}: angle`}
              value={promise.angle.degrees}
              dimension="degree"
              min={-180}
              max={180}
              stepBy={5}
              onChange={(degrees) =>
                degrees !== null &&
                adjust({ angle: { plane: promise.angle?.plane ?? 'horizontal', degrees } }, 'angle')
              }
            />
          </>
        )}
      </td>
      <td>
        <QuantityBlank
          label={`${title}: weight, 1 to 5`}
          value={promise.weight}
          dimension="number"
          min={1}
          max={5}
          stepBy={1}
          onChange={(weight) =>
            adjust({ weight: weight === null ? null : Math.round(weight) }, 'weight')
          }
        />
      </td>
      <td data-state={verdict.isKept === null ? 'waits' : verdict.isKept ? 'kept' : 'broken'}>
        {verdict.value === null ? `needs ${verdict.needs}` : figureBeside(promise, verdict.value)}
        {verdict.basis !== undefined && <small> {verdict.basis}</small>}
      </td>
      <td title={arithmetic}>
        {answers.length > 0 ? answers.join(', ') : isDerived ? 'whatever is asked' : 'made by hand'}
        {isAdjusted && (
          <>
            {' '}
            <Button
              onPress={() =>
                desk.change({ type: 'removePromise', id: promise.id }, `as derived: ${title}`)
              }
            >
              as derived
            </Button>
          </>
        )}
      </td>
      <td>
        <Button aria-label={`Take ${title} away`} onPress={chartFiles}>
          <Trash2 size={12} aria-hidden />
        </Button>
      </td>
    </tr>
  );
}

const Table = styled.table`
  button {
    padding: 0.1rem 0.35rem;
    font-size: 0.6875rem;
  }
  td:nth-child(6),
  td:nth-child(7) {
    white-space: normal;
    color: ${({ theme }) => theme.colour.quiet};
    &[data-state='broken'] {
      color: ${({ theme }) => theme.colour.alarm};
    }
    &[data-state='kept'] {
      color: ${({ theme }) => theme.colour.accent};
    }
  }
`;

const Adding = styled.div`
  display: flex;
  gap: 0.4rem;
  align-items: center;
  font-size: ${({ theme }) => theme.size.small};
`;

const Off = styled.p`
  margin-top: 0.5rem;
  font-size: ${({ theme }) => theme.size.small};
  display: flex;
  gap: 0.4rem;
  align-items: center;
`;
