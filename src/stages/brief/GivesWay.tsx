'use client';
import { ArrowDown, ArrowUp, GripVertical } from 'lucide-react';
import type { KeyboardEvent } from 'react';
import { Button as Plain, GridList, GridListItem, useDragAndDrop } from 'react-aria-components';
import styled from 'styled-components';
import type { Yielding } from '@/core/document/briefSchema';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { Quiet } from '@/ui/sheets';
import { yieldings } from './briefWords';
import { Question } from './Question';
import { useAnswer } from './useAnswer';

const usualOrder = Object.keys(yieldings) as Yielding[];

/** What was ranked, and the rest after it. */
const wholeOrder = (ranked: readonly Yielding[]): Yielding[] => [
  ...ranked,
  ...usualOrder.filter((one) => !ranked.includes(one)),
];

/**
 * The answers in the order in which they give way; moved by dragging, by buttons, or by Alt with
 * the arrow keys.
 */
export function GivesWay() {
  const ranked = useDeskState((state) => state.design.brief.givesWay);
  const answer = useAnswer();
  const desk = useDesk();
  const order = wholeOrder(ranked);
  const rank = (givesWay: Yielding[]) => answer('what gives way', { givesWay });
  const move = (one: Yielding, by: number) => {
    // As it is by now, which may be ahead of what is drawn.
    const now = wholeOrder(desk.store.getState().design.brief.givesWay);
    const from = now.indexOf(one);
    const to = from + by;
    if (to >= 0 && to < now.length) rank(now.toSpliced(from, 1).toSpliced(to, 0, one));
  };
  const { dragAndDropHooks } = useDragAndDrop({
    getItems: (keys) => [...keys].map((key) => ({ 'text/plain': String(key) })),
    onReorder({ keys, target }) {
      const moved = order.filter((one) => keys.has(one));
      const rest = order.filter((one) => !keys.has(one));
      const at = rest.indexOf(target.key as Yielding) + (target.dropPosition === 'after' ? 1 : 0);
      rank(rest.toSpliced(at, 0, ...moved));
    },
  });
  const onKeyDown = (event: KeyboardEvent) => {
    const row = (event.target as Element).closest('[role="row"]')?.getAttribute('data-key');
    if (!row || !event.altKey || !['ArrowUp', 'ArrowDown'].includes(event.key)) return;
    event.preventDefault();
    event.stopPropagation();
    move(row as Yielding, event.key === 'ArrowUp' ? -1 : 1);
  };
  return (
    <Question title="What gives way first">
      <div onKeyDownCapture={onKeyDown}>
        <List
          aria-label="What gives way first"
          items={order.map((id) => ({ id }))}
          dragAndDropHooks={dragAndDropHooks}
          data-ranked={ranked.length > 0}
        >
          {({ id }) => (
            <GridListItem id={id} textValue={yieldings[id]}>
              <Plain slot="drag" aria-label={`Drag ${id}`}>
                <GripVertical size={14} aria-hidden />
              </Plain>
              <span>{yieldings[id]}</span>
              <Button aria-label={`${id} gives way earlier`} onPress={() => move(id, -1)}>
                <ArrowUp size={13} aria-hidden />
              </Button>
              <Button aria-label={`${id} gives way later`} onPress={() => move(id, 1)}>
                <ArrowDown size={13} aria-hidden />
              </Button>
            </GridListItem>
          )}
        </List>
        <Quiet>
          {ranked.length === 0
            ? 'Not ranked yet: all weigh alike. '
            : 'The first weighs least among the promises, the last most. '}
          Drag, or Alt with ↑ and ↓.
        </Quiet>
      </div>
    </Question>
  );
}

const List = styled(GridList<{ id: Yielding }>)`
  display: grid;
  gap: 2px;
  counter-reset: rank;
  max-width: 24rem;
  margin-bottom: 0.3rem;
  &[data-ranked='false'] {
    color: ${({ theme }) => theme.colour.quiet};
  }
  /* The cell inside has no box of its own, so that its content is in the row. */
  [role='row'] {
    counter-increment: rank;
    display: flex;
    align-items: center;
    gap: 0.4rem;
    padding: 0.1rem 0.4rem;
    border: 1px solid ${({ theme }) => theme.colour.grid};
    border-radius: ${({ theme }) => theme.radius};
    background: ${({ theme }) => theme.colour.raised};
    &::before {
      content: counter(rank);
      color: ${({ theme }) => theme.colour.quiet};
      width: 1em;
    }
  }
  [role='gridcell'] {
    display: contents;
    > span {
      flex: 1;
    }
  }
  button {
    padding: 0.1rem 0.25rem;
  }
  button[slot='drag'] {
    background: none;
    border: 0;
    color: inherit;
    cursor: grab;
  }
  .react-aria-DropIndicator[data-drop-target] {
    outline: 1px solid ${({ theme }) => theme.colour.accent};
  }
`;
