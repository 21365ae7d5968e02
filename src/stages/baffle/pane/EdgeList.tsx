'use client';
import { Trash2 } from 'lucide-react';
import styled from 'styled-components';
import type { Panel, PanelEdge } from '@/core/document/baffleSchema';
import { edgeName } from '@/core/layout/edges';
import { withCorner, withCornerAdded, withEdges, withoutCorner } from '@/core/layout/reshape';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Sentence } from '@/ui/sheets';
import type { Chosen } from '@/stages/baffle/chosen';
import type { ReshapeFront } from '@/stages/baffle/useBaffleEdits';
import { SmallButton as Small } from './SmallButton';

const edgeKinds: readonly { readonly id: PanelEdge['kind']; readonly text: string }[] = [
  { id: 'sharp', text: 'sharp' },
  { id: 'round', text: 'rounded' },
  { id: 'chamfer', text: 'chamfered' },
];

interface EdgeListProps {
  readonly panel: Panel;
  readonly onSet: ReshapeFront;
  readonly chosen: Chosen;
  readonly onChoose: (chosen: Chosen) => void;
}

/** How each edge is treated, and where the corners are. */
export function EdgeList({ panel, onSet, chosen, onChoose }: EdgeListProps) {
  const treated = (which: readonly number[] | undefined, edge: PanelEdge, name: string) => (
    <>
      <ChoiceBlank
        label={`Treatment of ${name}`}
        isAlwaysSaid
        options={edgeKinds}
        value={edge.kind}
        onChange={(kind) =>
          kind !== null &&
          onSet(
            (now) =>
              withEdges(now, { kind, sizeMm: kind === 'sharp' ? 0 : edge.sizeMm || 12 }, which),
            `treatment of ${name}`,
          )
        }
      />
      {edge.kind !== 'sharp' && (
        <>
          {' '}
          by{' '}
          <QuantityBlank
            label={`Size of ${name}`}
            dimension="millimetre"
            stepBy={1}
            min={0}
            max={300}
            value={edge.sizeMm}
            onChange={(sizeMm) =>
              sizeMm !== null &&
              onSet(
                (now) => withEdges(now, { ...edge, sizeMm }, which),
                `treatment of ${name}`,
                `size ${name}`,
              )
            }
          />
        </>
      )}
    </>
  );
  return (
    <details open={chosen.kind === 'edge'}>
      <summary>Edges and corners</summary>
      <Sentence>All edges {treated(undefined, panel.corners[0].edge, 'all edges')}.</Sentence>
      {panel.corners.map((corner, c) => (
        <EdgeLine
          key={c}
          data-chosen={chosen.kind === 'edge' && chosen.index === c}
          onFocus={() => onChoose({ kind: 'edge', index: c })}
        >
          <span>{edgeName(panel.corners, c)}</span>
          <span>
            {treated([c], corner.edge, `${edgeName(panel.corners, c)} ${c + 1}`)}, from{' '}
            {(['xMm', 'yMm'] as const).map((axis, k) => (
              <span key={axis}>
                {k === 1 && ', '}
                <QuantityBlank
                  label={`Corner ${c + 1}, ${axis === 'xMm' ? 'to the right' : 'up'}`}
                  dimension="millimetre"
                  stepBy={1}
                  min={-10_000}
                  max={10_000}
                  value={corner[axis]}
                  onChange={(mm) =>
                    mm !== null &&
                    onSet(
                      (now) => withCorner(now, c, { [axis]: mm }),
                      'move a corner',
                      `corner ${c} ${axis}`,
                    )
                  }
                />
              </span>
            ))}
          </span>
          <Small
            aria-label={`Add a corner on the ${edgeName(panel.corners, c)}`}
            onPress={() => onSet((now) => withCornerAdded(now, c), 'add a corner')}
          >
            +
          </Small>
          <Small
            aria-label={`Remove corner ${c + 1}`}
            isDisabled={panel.corners.length <= 3}
            onPress={() => onSet((now) => withoutCorner(now, c), 'remove a corner')}
          >
            <Trash2 size={12} aria-hidden />
          </Small>
        </EdgeLine>
      ))}
    </details>
  );
}

const EdgeLine = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 0.2rem;
  align-items: center;
  padding: 0.2rem 0.3rem;
  border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
  font-size: 0.8125rem;
  > span:first-child {
    grid-column: 1 / -1;
    color: ${({ theme }) => theme.colour.quiet};
  }
  &[data-chosen='true'] {
    background: ${({ theme }) => theme.colour.accentWash};
  }
`;
