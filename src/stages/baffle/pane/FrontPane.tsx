'use client';
import { useState } from 'react';
import { boundsOf, type Panel } from '@/core/document/baffleSchema';
import { outlined, resized, shifted, type OutlineShape } from '@/core/layout/reshape';
import { useDesk } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { NameField } from '@/ui/fields/NameField';
import { PaneSection } from '@/ui/stageLook';
import { Choices, Sentence } from '@/ui/sheets';
import type { Chosen } from '@/stages/baffle/chosen';
import type { BaffleEdits, ReshapeFront } from '@/stages/baffle/useBaffleEdits';
import { EdgeList } from './EdgeList';
import { PortList } from './PortList';

interface FrontPaneProps {
  readonly panel: Panel;
  readonly isFirst: boolean;
  readonly edits: BaffleEdits;
  readonly chosen: Chosen;
  readonly onChoose: (chosen: Chosen) => void;
}

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
  const set: ReshapeFront = (edit, label, key) => edits.reshape(panel, edit, label, key);
  return (
    <PaneSection aria-label={panel.name}>
      <h3>
        <NameField
          label="Name of the front"
          value={panel.name}
          onCommit={(name) => set((now) => ({ ...now, name }), 'name of the front')}
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
          onChange={(kind) => kind !== null && set((now) => ({ ...now, kind }), 'kind of baffle')}
        />
        ,{' '}
        {mm('Width of the front', bounds.widthMm, (widthMm) =>
          set((now) => resized(now, { widthMm }), 'width of the front', 'front width'),
        )}{' '}
        wide,{' '}
        {mm('Height of the front', bounds.heightMm, (heightMm) =>
          set((now) => resized(now, { heightMm }), 'height of the front', 'front height'),
        )}{' '}
        high
        {panel.kind === 'box' && (
          <>
            ,{' '}
            {mm(
              'Depth of the box',
              panel.depthMm,
              (depthMm) => set((now) => ({ ...now, depthMm }), 'depth of the box', 'box depth'),
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
              (wingsMm) => set((now) => ({ ...now, wingsMm }), 'wings', 'wings'),
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
          (thicknessMm) =>
            set((now) => ({ ...now, thicknessMm }), 'thickness of the boards', 'boards'),
          1,
          200,
        )}
        {!isFirst && (
          <>
            , set back by{' '}
            {mm(
              'How far the panel is set back',
              panel.setBackMm,
              (setBackMm) => set((now) => ({ ...now, setBackMm }), 'set-back', 'set back'),
              0,
              2000,
            )}
          </>
        )}
        . The design axis goes through it{' '}
        {mm(
          'Design axis from the left edge',
          -bounds.leftMm,
          (from) =>
            set(
              (now) => shifted(now, -boundsOf(now.corners).leftMm - from, 0),
              'design axis',
              'axis x',
            ),
          -5000,
        )}{' '}
        from the left and{' '}
        {mm(
          'Design axis from the top edge',
          bounds.topMm,
          (from) =>
            set(
              (now) => shifted(now, 0, from - boundsOf(now.corners).topMm),
              'design axis',
              'axis y',
            ),
          -5000,
        )}{' '}
        from the top.
      </Sentence>
      <Outline panel={panel} onSet={set} />
      <EdgeList panel={panel} onSet={set} chosen={chosen} onChoose={onChoose} />
      <PortList panel={panel} onSet={set} />
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
    </PaneSection>
  );
}

const shapes: readonly { readonly id: OutlineShape['kind']; readonly text: string }[] = [
  { id: 'rectangle', text: 'a rectangle' },
  { id: 'trapezoid', text: 'a trapezoid, narrower on top' },
  { id: 'clipped', text: 'a rectangle with clipped upper corners' },
  { id: 'rounded', text: 'a rectangle with rounded upper corners' },
];

function Outline({ panel, onSet }: { readonly panel: Panel; readonly onSet: ReshapeFront }) {
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
      <Button onPress={() => onSet((now) => outlined(now, made()), 'outline of the front')}>
        Redraw
      </Button>
    </Sentence>
  );
}
