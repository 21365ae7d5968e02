'use client';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import styled from 'styled-components';
import { boundsOf, type Panel, type PanelEdge } from '@/core/document/baffleSchema';
import { edgeName } from '@/core/layout/edges';
import {
  outlined,
  resized,
  shifted,
  withCorner,
  withCornerAdded,
  withEdges,
  withoutCorner,
  type OutlineShape,
} from '@/core/layout/reshape';
import { useDesk } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { NameField } from '@/ui/fields/NameField';
import { Choices, Quiet, Sentence } from '@/ui/sheets';
import type { Chosen } from '@/stages/baffle/chosen';
import type { BaffleEdits } from '@/stages/baffle/useBaffleEdits';

interface FrontPaneProps {
  readonly panel: Panel;
  readonly isFirst: boolean;
  readonly edits: BaffleEdits;
  readonly chosen: Chosen;
  readonly onChoose: (chosen: Chosen) => void;
}

const edgeKinds: readonly { readonly id: PanelEdge['kind']; readonly text: string }[] = [
  { id: 'sharp', text: 'sharp' },
  { id: 'round', text: 'rounded' },
  { id: 'chamfer', text: 'chamfered' },
];

/** The front itself: size, outline, edges, ports. */
export function FrontPane({ panel, isFirst, edits, chosen, onChoose }: FrontPaneProps) {
  const desk = useDesk();
  const bounds = boundsOf(panel.corners);
  const mm = (
    label: string,
    value: number,
    onChange: (mm: number) => void,
    min = 1,
    max = 5000,
  ) => (
    <QuantityBlank
      label={label}
      dimension="millimetre"
      stepBy={1}
      min={min}
      max={max}
      value={Number(value.toFixed(2))}
      onChange={(next) => next !== null && onChange(next)}
    />
  );
  const set = (next: Panel, label: string, key?: string) => edits.setPanel(next, label, key);
  return (
    <Layout aria-label={panel.name}>
      <h3>
        <NameField
          label="Name of the front"
          value={panel.name}
          onCommit={(name) => set({ ...panel, name }, 'name of the front')}
        />
      </h3>
      <Sentence>
        <ChoiceBlank
          label="Kind of baffle"
          isAlwaysSaid
          options={[
            { id: 'box', text: 'A box' },
            { id: 'open', text: 'An open baffle' },
          ]}
          value={panel.kind}
          onChange={(kind) => kind !== null && set({ ...panel, kind }, 'kind of baffle')}
        />
        ,{' '}
        {mm('Width of the front', bounds.widthMm, (widthMm) =>
          set(resized(panel, { widthMm }), 'width of the front', 'front width'),
        )}{' '}
        wide,{' '}
        {mm('Height of the front', bounds.heightMm, (heightMm) =>
          set(resized(panel, { heightMm }), 'height of the front', 'front height'),
        )}{' '}
        high
        {panel.kind === 'box' && (
          <>
            ,{' '}
            {mm(
              'Depth of the box',
              panel.depthMm,
              (depthMm) => set({ ...panel, depthMm }, 'depth of the box', 'box depth'),
              1,
              3000,
            )}{' '}
            deep
          </>
        )}
        {panel.kind === 'open' && (
          <>
            , with wings{' '}
            {mm(
              'Depth of the wings',
              panel.wingsMm,
              (wingsMm) => set({ ...panel, wingsMm }, 'wings', 'wings'),
              0,
              1000,
            )}{' '}
            deep at both sides
          </>
        )}
        , of boards{' '}
        {mm(
          'Thickness of the boards',
          panel.thicknessMm,
          (thicknessMm) => set({ ...panel, thicknessMm }, 'thickness of the boards', 'boards'),
          1,
          200,
        )}
        {!isFirst && (
          <>
            , set back by{' '}
            {mm(
              'How far the panel is set back',
              panel.setBackMm,
              (setBackMm) => set({ ...panel, setBackMm }, 'set-back', 'set back'),
              0,
              2000,
            )}
          </>
        )}
        . The design axis goes through it{' '}
        {mm(
          'Design axis from the left edge',
          -bounds.leftMm,
          (from) => set(shifted(panel, -bounds.leftMm - from, 0), 'design axis', 'axis x'),
          -5000,
        )}{' '}
        from the left and{' '}
        {mm(
          'Design axis from the top edge',
          bounds.topMm,
          (from) => set(shifted(panel, 0, from - bounds.topMm), 'design axis', 'axis y'),
          -5000,
        )}{' '}
        from the top.
      </Sentence>
      <Outline panel={panel} onSet={set} />
      <Edges panel={panel} onSet={set} chosen={chosen} onChoose={onChoose} />
      <Ports panel={panel} onSet={set} />
      {!isFirst && (
        <Choices>
          <Button
            onPress={() => {
              onChoose({ kind: 'front' });
              desk.change({ type: 'removePanel', id: panel.id }, `remove ${panel.name}`);
            }}
          >
            Remove this panel
          </Button>
        </Choices>
      )}
    </Layout>
  );
}

type Set = (next: Panel, label: string, key?: string) => void;

const shapes: readonly { readonly id: OutlineShape['kind']; readonly text: string }[] = [
  { id: 'rectangle', text: 'a rectangle' },
  { id: 'trapezoid', text: 'a trapezoid, narrower on top' },
  { id: 'clipped', text: 'a rectangle with clipped upper corners' },
  { id: 'rounded', text: 'a rectangle with rounded upper corners' },
];

function Outline({ panel, onSet }: { readonly panel: Panel; readonly onSet: Set }) {
  const { widthMm } = boundsOf(panel.corners);
  const [sizeMm, setSizeMm] = useState(60);
  const [kind, setKind] = useState<OutlineShape['kind']>('rectangle');
  const made = (): OutlineShape => {
    if (kind === 'rectangle') return { kind };
    if (kind === 'trapezoid') return { kind, topWidthMm: Math.max(20, widthMm - 2 * sizeMm) };
    return { kind, byMm: sizeMm, isTopOnly: true };
  };
  return (
    <Sentence>
      Make the outline{' '}
      <ChoiceBlank
        label="Outline of the front"
        isAlwaysSaid
        options={shapes}
        value={kind}
        onChange={(next) => next !== null && setKind(next)}
      />
      {kind !== 'rectangle' && (
        <>
          {' '}
          by{' '}
          <QuantityBlank
            label="How much of each corner"
            dimension="millimetre"
            stepBy={5}
            min={1}
            max={1000}
            value={sizeMm}
            onChange={(next) => next !== null && setSizeMm(next)}
          />
        </>
      )}{' '}
      <Button onPress={() => onSet(outlined(panel, made()), 'outline of the front')}>Redraw</Button>
    </Sentence>
  );
}

interface EdgesProps {
  readonly panel: Panel;
  readonly onSet: Set;
  readonly chosen: Chosen;
  readonly onChoose: (chosen: Chosen) => void;
}

function Edges({ panel, onSet, chosen, onChoose }: EdgesProps) {
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
            withEdges(panel, { kind, sizeMm: kind === 'sharp' ? 0 : edge.sizeMm || 12 }, which),
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
                withEdges(panel, { ...edge, sizeMm }, which),
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
                      withCorner(panel, c, { [axis]: mm }),
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
            onPress={() => onSet(withCornerAdded(panel, c), 'add a corner')}
          >
            +
          </Small>
          <Small
            aria-label={`Remove corner ${c + 1}`}
            isDisabled={panel.corners.length <= 3}
            onPress={() => onSet(withoutCorner(panel, c), 'remove a corner')}
          >
            <Trash2 size={12} aria-hidden />
          </Small>
        </EdgeLine>
      ))}
    </details>
  );
}

function Ports({ panel, onSet }: { readonly panel: Panel; readonly onSet: Set }) {
  const bounds = boundsOf(panel.corners);
  const set = (index: number, change: Partial<Panel['ports'][number]>) =>
    onSet(
      {
        ...panel,
        ports: panel.ports.map((port, p) => (p === index ? { ...port, ...change } : port)),
      },
      'port',
      `port ${index}`,
    );
  return (
    <details>
      <summary>Ports ({panel.ports.length})</summary>
      {panel.ports.map((port, p) => (
        <Sentence key={p}>
          Port {p + 1},{' '}
          {(
            [
              ['diameterMm', 'diameter', 1, 1000],
              ['xMm', 'to the right', -10_000, 10_000],
              ['yMm', 'up', -10_000, 10_000],
            ] as const
          ).map(([key, told, min, max]) => (
            <span key={key}>
              <QuantityBlank
                label={`Port ${p + 1}, ${told}`}
                dimension="millimetre"
                stepBy={1}
                min={min}
                max={max}
                value={port[key]}
                onChange={(mm) => mm !== null && set(p, { [key]: mm })}
              />{' '}
              {told}{' '}
            </span>
          ))}
          <Small
            aria-label={`Remove port ${p + 1}`}
            onPress={() => onSet({ ...panel, ports: panel.ports.toSpliced(p, 1) }, 'remove a port')}
          >
            <Trash2 size={12} aria-hidden />
          </Small>
        </Sentence>
      ))}
      <Button
        isDisabled={panel.ports.length >= 12}
        onPress={() =>
          onSet(
            {
              ...panel,
              ports: [
                ...panel.ports,
                {
                  xMm: (bounds.leftMm + bounds.rightMm) / 2,
                  yMm: bounds.bottomMm + 80,
                  diameterMm: 60,
                },
              ],
            },
            'add a port',
          )
        }
      >
        Add a port
      </Button>
      <Quiet as="p">Its tuning belongs to the box; here it only takes its place.</Quiet>
    </details>
  );
}

const Layout = styled.section`
  display: grid;
  gap: 0.6rem;
  summary {
    cursor: pointer;
    font-weight: 600;
    font-size: 0.8125rem;
  }
  details > * + * {
    margin-top: 0.4rem;
  }
`;

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

const Small = styled(Button)`
  padding: 0.1em 0.4em;
  font-size: ${({ theme }) => theme.size.small};
`;
