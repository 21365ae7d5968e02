'use client';
import type { PartId } from '@/core/fields';
import { useShallow } from 'zustand/react/shallow';
import { partKinds, partValue, hasLoss, kindsOfParts } from '@/core/document/partKinds';
import { memo, type KeyboardEvent } from 'react';
import styled from 'styled-components';
import { movedAlong } from '@/core/editing/arrange';
import { originalOf } from '@/core/editing/mirror';
import { allPlaces } from '@/core/document/places';
import { partsOf, type Bridge, type Part, type PartKind, type Way } from '@/core/document/schema';
import { figureText, kinds, limitText } from '@/core/promises/kinds/kinds';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { shownOf } from '@/desk/deskState';
import { Button } from '@/ui/Button';
import { Choice } from '@/ui/fields/Choice';
import { QuantityField } from '@/ui/fields/QuantityField';
import { Note } from '@/ui/sheets';
import { Tick } from '@/ui/fields/Tick';
import { Row } from './inspectorLook';
import { placeWords } from '@/stages/network/edits/partWords';
import { nudgeSeries, steppedValue } from '@/stages/network/edits/nudge';
import { Couplings } from './Couplings';
import { InsightSheet } from './InsightSheet';
import { PlaceChoice } from './PlaceChoice';
import { SourceInspector } from './SourceInspector';
import { SwitchMembership } from './Switches';
import { WayInspector } from './WayInspector';
import { focusSoon } from '@/stages/network/edits/focusSoon';
import { useNetworkEdits } from '@/stages/network/edits/useNetworkEdits';

/**
 * What is known about the chosen thing, and how to change it; without a choice, the amplifier and
 * the seat.
 */
export function Inspector() {
  const selection = useDeskState((state) => state.selection);
  const ways = useDeskState((state) => state.design.ways);
  const bridges = useDeskState((state) => state.design.bridges);
  const partId = selection?.kind === 'part' ? selection.id : null;
  const part = ways
    .flatMap((way) => way.parts.map((p) => ({ way, part: p })))
    .find((found) => found.part.id === partId);
  const bridge = bridges.find((one) => one.part.id === partId);
  const wayId =
    selection?.kind === 'way' ? selection.id : selection?.kind === 'gap' ? selection.wayId : null;
  const way = ways.find(({ id }) => id === wayId);
  /**
   * From a value back to what it belongs to. A field that holds a draft keeps the key for itself.
   */
  const backToChosen = (event: KeyboardEvent) => {
    const target = partId ?? wayId;
    if (event.key !== 'Escape' || event.defaultPrevented || target === null) return;
    event.stopPropagation();
    focusSoon(target);
  };
  return (
    <Aside data-inspector aria-label="Inspector" onKeyDown={backToChosen}>
      {part ? (
        <PartInspector key={part.part.id + part.part.kind} {...part} />
      ) : bridge ? (
        <BridgeInspector key={bridge.part.id + bridge.part.kind} bridge={bridge} />
      ) : way ? (
        <WayInspector key={way.id} way={way} />
      ) : (
        <SourceInspector />
      )}
      <LoadNote />
    </Aside>
  );
}

/** A part on a rail. */
function PartInspector({ part, way }: { readonly part: Part; readonly way: Way }) {
  const edits = useNetworkEdits();
  const selection = { kind: 'part', id: part.id } as const;
  return (
    <>
      <h2>
        {part.name}, {placeWords[part.place]}, {way.name.toLowerCase()}
      </h2>
      <PartFigures part={part} />
      <Row>
        <Button onPress={() => edits.turn(selection)}>
          Put in {part.place === 'series' ? 'shunt' : 'series'} <kbd>T</kbd>
        </Button>
        <Button onPress={() => edits.remove(selection)}>
          Remove <kbd>Del</kbd>
        </Button>
      </Row>
      <Row>
        <Button onPress={() => edits.joinNext(selection, 'series')}>
          Join in series <kbd>G</kbd>
        </Button>
        <Button onPress={() => edits.joinNext(selection, 'parallel')}>
          in parallel <kbd>⇧G</kbd>
        </Button>
        {part.groupId !== null && (
          <Button onPress={() => edits.ungroup(selection)}>
            Take apart <kbd>U</kbd>
          </Button>
        )}
        <Button onPress={() => edits.addBridge(selection)}>
          Bridge it <kbd>J</kbd>
        </Button>
      </Row>
      <Row>
        <Button
          onPress={() => edits.moveAlong(selection, -1)}
          isDisabled={movedAlong(way, part.id, -1) === null}
          aria-label="Move toward the amplifier"
        >
          ← move
        </Button>
        <Button
          onPress={() => edits.moveAlong(selection, 1)}
          isDisabled={movedAlong(way, part.id, 1) === null}
          aria-label="Move toward the driver"
        >
          move →
        </Button>
      </Row>
      <PartStates part={part} />
    </>
  );
}

/** A part between two places. */
function BridgeInspector({ bridge: { part, a, b } }: { readonly bridge: Bridge }) {
  const desk = useDesk();
  const edits = useNetworkEdits();
  const design = useDeskState((state) => state.design);
  const places = [{ kind: 'ground' } as const, ...allPlaces(design)];
  return (
    <>
      <h2>{part.name}, a bridge</h2>
      <PartFigures part={part} />
      {(
        [
          ['a', 'From', a],
          ['b', 'To', b],
        ] as const
      ).map(([end, label, node]) => (
        <PlaceChoice
          key={end}
          label={label}
          places={places}
          value={node}
          onChange={(next) =>
            desk.change(
              { type: 'moveBridge', partId: part.id, set: { [end]: next } },
              `move ${part.name}`,
            )
          }
        />
      ))}
      <Row>
        <Button onPress={() => edits.remove({ kind: 'part', id: part.id })}>
          Remove <kbd>Del</kbd>
        </Button>
      </Row>
      <PartStates part={part} />
    </>
  );
}

/** Value, loss, couplings and kind of a part. */
function PartFigures({ part }: { readonly part: Part }) {
  const desk = useDesk();
  return (
    <>
      <QuantityField
        label={`Value (arrow keys: ${nudgeSeries.coarse}, with Alt ${nudgeSeries.fine})`}
        value={partValue(part)}
        dimension={partKinds[part.kind].dimension}
        min={partKinds[part.kind].entered[0]}
        max={partKinds[part.kind].entered[1]}
        step={(_, steps, isFine) => steppedValue(part, steps, isFine)}
        onCommit={(value) =>
          desk.change(
            { type: 'setPartValue', id: part.id, value },
            `set ${part.name}`,
            `value ${part.id}`,
          )
        }
        isLarge
      />
      {hasLoss(part) && (
        <QuantityField
          label={part.kind === 'coil' ? 'Resistance of its wire' : 'Series resistance (loss)'}
          value={part.seriesOhms}
          dimension="ohm"
          min={0}
          max={1000}
          step={(value, steps, isFine) =>
            Math.round((value + steps * (isFine ? 0.001 : 0.01)) * 1000) / 1000
          }
          onCommit={(seriesOhms) =>
            desk.change(
              { type: 'setPartLoss', id: part.id, seriesOhms },
              `loss of ${part.name}`,
              `loss ${part.id}`,
            )
          }
        />
      )}
      {hasLoss(part) && (
        <Tick
          isSelected={!part.isLossFixed}
          onChange={(follows) =>
            desk.change(
              { type: 'setPartLoss', id: part.id, seriesOhms: follows ? null : part.seriesOhms },
              `loss of ${part.name}`,
            )
          }
        >
          {part.kind === 'coil'
            ? 'The resistance follows the value (same wire, R ∝ ' +
              (part.core === 'magnetic' ? 'L^0.5)' : 'L^0.6)')
            : 'The loss follows the value (same dissipation factor)'}
        </Tick>
      )}
      {part.kind === 'coil' && (
        <Tick
          isSelected={part.core === 'magnetic'}
          onChange={(isMagnetic) =>
            desk.change({ type: 'setCore', id: part.id, isMagnetic }, `core of ${part.name}`)
          }
        >
          On a core of iron or ferrite
        </Tick>
      )}
      {part.kind === 'coil' && <Couplings partId={part.id} partName={part.name} />}
      <KindChoice partId={part.id} kind={part.kind} />
    </>
  );
}

/** What may be done to a part wherever it is, and what it does. */
function PartStates({ part }: { readonly part: Part }) {
  const desk = useDesk();
  // A part that mirrors another is set by the other's switch.
  const originalId = useDeskState((state) => originalOf(state.design, part.id));
  const edits = useNetworkEdits();
  const selection = { kind: 'part', id: part.id } as const;
  return (
    <>
      <Tick isSelected={part.isOff} onChange={() => edits.switchPart(selection)}>
        Excluded <kbd>X</kbd>
      </Tick>
      <Tick isSelected={part.isLocked} onChange={() => edits.lock(selection)}>
        Locked <kbd>K</kbd>
      </Tick>
      <SwapChoice partId={part.id} />
      <SwitchMembership kind="part" id={originalId} name={part.name} />
      <Button onPressStart={() => desk.bypass(part.id)} onPressEnd={() => desk.bypass(null)}>
        Hold to see it without {part.name} <kbd>B</kbd>
      </Button>
      <InsightSheet part={part} />
    </>
  );
}

/** Not drawn again while values move, as the choices below do: lists are slow to draw. */
const SwapChoice = memo(function SwapChoice({ partId }: { readonly partId: PartId }) {
  const edits = useNetworkEdits();
  const others = useDeskState(
    useShallow(
      ({ design }) =>
        new Map(
          partsOf(design)
            .filter(({ id }) => id !== partId)
            .map(({ id, name, kind }) => [id, `${name}, ${partKinds[kind].word}`]),
        ),
    ),
  );
  if (others.size === 0) return null;
  return (
    <Choice
      label="Its place"
      placeholder="swap with …"
      options={[...others].map(([id, text]) => ({ id, text }))}
      value={null}
      onChange={(id) => edits.swap(partId, id)}
    />
  );
});

/** Not drawn again while the value moves. */
const KindChoice = memo(function KindChoice({
  partId,
  kind,
}: {
  readonly partId: PartId;
  readonly kind: PartKind;
}) {
  const edits = useNetworkEdits();
  return (
    <Choice<PartKind>
      label="Kind"
      options={kindOptions}
      value={kind}
      onChange={(next) => edits.replace(partId, next)}
    />
  );
});

const kindOptions = kindsOfParts.map((kind) => ({
  id: kind,
  text: partKinds[kind].word,
}));

/**
 * The state of the whole: broken promises with what moves them, the heaviest first, and the figures
 * of the sum.
 */
function LoadNote() {
  const lowest = useDeskState((state) => shownOf(state).prediction?.summary.lowestImpedance);
  const onAxis = useDeskState((state) => shownOf(state).prediction?.summary.onAxis);
  const judged = useDeskState((state) => shownOf(state).judged);
  // What moves a promise is worked out for the design on the desk only.
  const levers = useDeskState((state) =>
    shownOf(state).design === state.design ? state.study?.levers : undefined,
  );
  if (!lowest) return null;
  const broken = judged
    .filter(({ verdict }) => verdict.isKept === false && levers?.has(verdict.promiseId))
    .sort((a, b) => b.promise.weight - a.promise.weight);
  return (
    <>
      {broken.slice(0, 3).map(({ promise, verdict }) => (
        <Note key={promise.id} $kind="alarm">
          <strong>
            {kinds[promise.kind].title} {figureText(promise.kind, verdict.value!)}
            {verdict.atHz === null ? '' : ` at ${at(verdict.atHz)}`}.
          </strong>{' '}
          Promised: {limitText(promise)}.{' '}
          {levers!.get(promise.id)!.map(({ partId, partName, direction, gain }, i) => (
            <span key={partId}>
              {i === 0 ? 'What moves it most: ' : ' or '}
              {partName} {direction}, {figureText(promise.kind, gain).replace('±', '')} for 10 %
            </span>
          ))}
        </Note>
      ))}
      <Note $kind="plain">
        <strong>
          Lowest impedance {formatFixed(lowest.ohms, 1)} Ω at {at(lowest.atHz)}.
        </strong>
        {onAxis && (
          <p>
            On axis from 200 Hz to 15 kHz: {formatFixed(onAxis.meanDb, 1)} dB on average, at most{' '}
            {formatFixed(onAxis.highestDb, 1)} dB above it at {at(onAxis.highestAtHz)} and{' '}
            {formatFixed(-onAxis.lowestDb, 1)} dB below it at {at(onAxis.lowestAtHz)}.
          </p>
        )}
      </Note>
    </>
  );
}

const at = (hz: number) => formatQuantity(Number(hz.toPrecision(3)), 'hertz');

const Aside = styled.aside`
  display: grid;
  align-content: start;
  gap: 0.65rem;
`;
