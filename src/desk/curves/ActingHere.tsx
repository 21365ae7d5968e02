'use client';
import { useCallback } from 'react';
import styled from 'styled-components';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDeskState } from '@/desk/DeskContext';
import { shownOf } from '@/desk/deskState';
import { useWorkbenchAnswer, type Question } from '@/desk/useWorkbenchAnswer';

const shownCount = 4;
/** Less than this nobody hears. */
const leastDb = 0.02;

/** Which parts act at the place of the cursor, the strongest first. */
export function ActingHere({ cursorHz }: { readonly cursorHz: number | null }) {
  return cursorHz === null ? null : <ActingAt cursorHz={cursorHz} />;
}

function ActingAt({ cursorHz }: { readonly cursorHz: number }) {
  const design = useDeskState((state) => shownOf(state).design);
  const question = useCallback<Question<readonly { partName: string; db: number }[]>>(
    (workbench) => workbench.actingAt(design, cursorHz),
    [design, cursorHz],
  );
  const { value: acting, isCurrent } = useWorkbenchAnswer(question);
  const told = (acting ?? [])
    .filter(({ db }) => Math.abs(db) >= leastDb)
    .slice(0, shownCount)
    .map(({ partName, db }) => `${partName} ${db > 0 ? '+' : ''}${formatFixed(db, 2)}`);
  // What was worked out for another place, or another state of the design, is no answer.
  if (!isCurrent || told.length === 0) return null;
  return (
    <Line role="status">
      At {formatQuantity(Number(cursorHz.toPrecision(3)), 'hertz')} act {told.join(', ')} dB for +10
      %
    </Line>
  );
}

/** Just over the shelf, so that it covers no reading of the charts. */
const Line = styled.p`
  position: absolute;
  left: 0;
  bottom: 100%;
  padding: 0.1rem 0.6rem;
  background: ${({ theme }) => theme.colour.sheet};
  border: 1px solid ${({ theme }) => theme.colour.rule};
  font-size: ${({ theme }) => theme.size.small};
`;
