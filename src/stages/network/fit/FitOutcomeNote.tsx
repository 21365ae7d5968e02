import styled from 'styled-components';
import type { PromiseKind } from '@/core/document/briefSchema';
import type { FewerResult } from '@/core/fitting/fewer';
import { limitWords } from '@/core/fitting/limitWords';
import type { FitFigures } from '@/core/fitting/fitFigures';
import { figureText, kinds, limitText } from '@/core/promises/kinds/kinds';
import { formatFixed } from '@/core/units/quantity';
import { Note, tableLook } from '@/ui/sheets';
import type { FitWork } from './useFit';

/** What a fit or a rounding came to: every promise before and after, and what contradicts. */
export function FitOutcomeNote({
  work: { what, outcome, before, after },
}: {
  readonly work: FitWork;
}) {
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
  const broken = after.filter(({ verdict }) => verdict.isKept === false);
  const gaveWay = outcome.contradictions.flatMap(({ limit }) =>
    limit.promiseId === null ? [limitWords(limit)] : [],
  );
  return (
    <Note $kind="plain">
      {isStopped ? 'Stopped; the best so far is on the desk. ' : ''}
      {what === 'fit' ? 'Fitted' : 'Rounded'}
      {evaluations > 0 && ` with ${evaluations.toLocaleString('en')} networks solved`}: ±
      {formatFixed(best.figures.deviationDb, 2)} dB on axis,{' '}
      {broken.length === 0 ? 'all promises kept' : `${broken.length} broken`}.{' '}
      {best.turned.length > 0 && 'Some ways were turned round. '}
      Undo takes all of it back.
      {what === 'fit' && broken.length > 0 && (
        <p>
          With these parts not everything can be kept:{' '}
          {broken
            .map(
              ({ promise, verdict }) =>
                `${kinds[promise.kind].title} would have to give to ${told(promise.kind, verdict.value)}`,
            )
            .join('; ')}
          .
        </p>
      )}
      {gaveWay.length > 0 && <p>Nobody promised, and given way: {gaveWay.join('; ')}.</p>}
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

/** Which parts were excluded, and what that did. */
export function Omitted({
  result: { omissions, before, after },
}: {
  readonly result: FewerResult;
}) {
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

const Table = styled.table`
  ${tableLook}
`;
