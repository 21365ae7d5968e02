'use client';
import { useEffect, useState } from 'react';
import styled from 'styled-components';
import type { Design } from '@/core/document/schema';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { shownOf } from '@/desk/deskState';

/** The cursor must rest this long. */
const restMs = 250;
const shownCount = 4;
/** Less than this nobody hears. */
const leastDb = 0.02;

/** Which parts act at the place of the cursor, the strongest first. */
export function ActingHere({ cursorHz }: { readonly cursorHz: number | null }) {
  const desk = useDesk();
  const design = useDeskState((state) => shownOf(state).design);
  const [told, setTold] = useState<{ hz: number; design: Design; text: string } | null>(null);
  useEffect(() => {
    if (cursorHz === null) return;
    let isWanted = true;
    const timer = setTimeout(() => {
      void desk
        .workbench()
        .actingAt(design, cursorHz)
        .then((acting) => {
          if (!isWanted) return;
          const text = acting
            .filter(({ db }) => Math.abs(db) >= leastDb)
            .slice(0, shownCount)
            .map(({ partName, db }) => `${partName} ${db > 0 ? '+' : ''}${formatFixed(db, 2)}`)
            .join(', ');
          setTold({ hz: cursorHz, design, text });
        })
        .catch(() => undefined);
    }, restMs);
    return () => {
      isWanted = false;
      clearTimeout(timer);
    };
  }, [desk, cursorHz, design]);
  // What was worked out for another state of the design is no answer.
  if (cursorHz === null || told?.hz !== cursorHz || told.design !== design || told.text === '')
    return null;
  return (
    <Line role="status">
      At {formatQuantity(Number(cursorHz.toPrecision(3)), 'hertz')} act {told.text} dB for +10 %
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
