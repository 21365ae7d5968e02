'use client';
import { memo } from 'react';
import styled from 'styled-components';
import { movedAlong } from '@/core/design/arrange';
import { partValue } from '@/core/design/partValue';
import type { Part, PartKind, Way } from '@/core/design/schema';
import { figureText, kinds, limitText } from '@/core/promises/kinds';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { Choice } from '@/ui/Choice';
import { NameField } from '@/ui/NameField';
import { QuantityField } from '@/ui/QuantityField';
import { Note, Quiet } from '@/ui/sheets';
import { Tick } from '@/ui/Tick';
import { dimensionOf, kindWords, limitsOf, placeWords } from './partWords';
import { nudgeSeries, steppedValue } from './networkEdits';
import { Couplings } from './Couplings';
import { HandoverNotes } from './HandoverNotes';
import { InsightSheet } from './InsightSheet';
import { StartingPoints } from './StartingPoints';
import { useNetworkEdits } from './useNetworkEdits';

/** What is known about the chosen thing, and how to change it; without a choice, the amplifier and the seat. */
export function Inspector() {
  const selection = useDeskState((state) => state.selection);
  const ways = useDeskState((state) => state.design.ways);
  const part =
    selection?.kind === 'part'
      ? ways
          .flatMap((way) => way.parts.map((p) => ({ way, part: p })))
          .find((found) => found.part.id === selection.id)
      : undefined;
  const wayId =
    selection?.kind === 'way' ? selection.id : selection?.kind === 'gap' ? selection.wayId : null;
  const way = ways.find(({ id }) => id === wayId);
  return (
    <Aside data-inspector aria-label="Inspector">
      {part ? (
        <PartInspector key={part.part.id + part.part.kind} {...part} />
      ) : way ? (
        <WayInspector key={way.id} way={way} />
      ) : (
        <SourceInspector />
      )}
      <LoadNote />
    </Aside>
  );
}

function PartInspector({ part, way }: { readonly part: Part; readonly way: Way }) {
  const desk = useDesk();
  const edits = useNetworkEdits();
  const selection = { kind: 'part', id: part.id } as const;
  return (
    <>
      <h2>
        {part.name}, {placeWords[part.place]}, {way.name.toLowerCase()}
      </h2>
      <QuantityField
        label={`Value (arrow keys: ${nudgeSeries.coarse}, with Alt ${nudgeSeries.fine})`}
        value={partValue(part)}
        dimension={dimensionOf[part.kind]}
        {...limitsOf[part.kind]}
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
      {part.kind !== 'resistor' && (
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
      {part.kind === 'coil' && <Couplings part={part} />}
      <KindChoice partId={part.id} kind={part.kind} />
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
      </Row>
      <Tick isSelected={part.isOff} onChange={() => edits.switchPart(selection)}>
        Left out <kbd>X</kbd>
      </Tick>
      <Tick isSelected={part.isLocked} onChange={() => edits.lock(selection)}>
        Locked <kbd>K</kbd>
      </Tick>
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
      <Button onPressStart={() => desk.bypass(part.id)} onPressEnd={() => desk.bypass(null)}>
        Hold to see it without {part.name} <kbd>B</kbd>
      </Button>
      <InsightSheet part={part} />
    </>
  );
}

/** Stands still while the value moves. */
const KindChoice = memo(function KindChoice({
  partId,
  kind,
}: {
  readonly partId: string;
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

const kindOptions = (['resistor', 'coil', 'capacitor'] as const).map((kind) => ({
  id: kind,
  text: kindWords[kind],
}));

const noDriver = 'none';

function WayInspector({ way }: { readonly way: Way }) {
  const desk = useDesk();
  const edits = useNetworkEdits();
  const drivers = useDeskState((state) => state.design.drivers);
  const ways = useDeskState((state) => state.design.ways);
  const others = ways.filter(({ id, parts }) => id !== way.id && parts.length > 0);
  const selection = { kind: 'way', id: way.id } as const;
  return (
    <>
      <h2>
        <NameField
          label="Way name"
          value={way.name}
          onCommit={(name) =>
            desk.change({ type: 'editWay', id: way.id, set: { name } }, 'rename a way')
          }
        />
      </h2>
      <Choice
        label="Driver at its end"
        options={[
          { id: noDriver, text: 'no driver' },
          ...drivers.map(({ id, name }) => ({ id, text: name })),
        ]}
        value={way.driverId ?? noDriver}
        onChange={(id) =>
          desk.change(
            { type: 'editWay', id: way.id, set: { driverId: id === noDriver ? null : id } },
            `driver of ${way.name}`,
          )
        }
      />
      <Choice
        label="Polarity"
        options={[
          { id: 'normal', text: 'in phase' },
          { id: 'reversed', text: 'reversed' },
        ]}
        value={way.polarity}
        onChange={(polarity) =>
          desk.change({ type: 'editWay', id: way.id, set: { polarity } }, `polarity of ${way.name}`)
        }
      />
      <Row>
        <Button onPress={() => edits.flip(selection)}>
          Flip polarity <kbd>P</kbd>
        </Button>
        <Button onPress={() => edits.remove(selection)}>
          Remove way <kbd>Del</kbd>
        </Button>
      </Row>
      <HandoverNotes way={way} />
      {others.length > 0 && (
        <Choice
          label="Its filter"
          placeholder="take a copy of another’s …"
          options={others.map(({ id, name }) => ({ id, text: `copy that of ${name}` }))}
          value={null}
          onChange={(id) => {
            const from = others.find((other) => other.id === id);
            if (from) edits.copyFilter(from, way);
          }}
        />
      )}
      <Quiet>R, L, C add a part in series before the driver; with Shift in shunt.</Quiet>
      <h3>Begin with</h3>
      <StartingPoints way={way} />
    </>
  );
}

function SourceInspector() {
  const desk = useDesk();
  const amplifier = useDeskState((state) => state.design.amplifier);
  const distanceMm = useDeskState((state) => state.design.listeningDistanceMm);
  const hasWays = useDeskState((state) => state.design.ways.length > 0);
  return (
    <>
      <h2>Amplifier and place</h2>
      <QuantityField
        label="Voltage"
        value={amplifier.volts}
        dimension="volt"
        min={0.001}
        max={200}
        onCommit={(volts) =>
          desk.change(
            { type: 'setAmplifier', amplifier: { ...amplifier, volts } },
            'amplifier voltage',
          )
        }
      />
      <QuantityField
        label="Output resistance with cable"
        value={amplifier.outputOhms}
        dimension="ohm"
        min={0}
        max={100}
        step={(value, steps, isFine) =>
          Math.round((value + steps * (isFine ? 0.001 : 0.01)) * 1000) / 1000
        }
        onCommit={(outputOhms) =>
          desk.change(
            { type: 'setAmplifier', amplifier: { ...amplifier, outputOhms } },
            'output resistance',
            'output',
          )
        }
      />
      <QuantityField
        label="Sum taken on the design axis at"
        value={distanceMm}
        dimension="millimetre"
        min={100}
        max={100_000}
        step={(value, steps, isFine) => value + steps * (isFine ? 10 : 100)}
        onCommit={(next) =>
          desk.change(
            { type: 'setListeningDistance', distanceMm: next },
            'listening distance',
            'distance',
          )
        }
      />
      {hasWays && (
        <Quiet>
          Choose a part to change it: click it, or reach it with Tab and the arrow keys. + adds one.
        </Quiet>
      )}
    </>
  );
}

/** What the amplifier sees at worst. */
/** The state of the whole: broken promises with what moves them, the heaviest first, and the figures of the sum. */
function LoadNote() {
  const lowest = useDeskState((state) => state.prediction?.summary.lowestImpedance);
  const onAxis = useDeskState((state) => state.prediction?.summary.onAxis);
  const standings = useDeskState((state) => state.standings);
  const levers = useDeskState((state) => state.study?.levers);
  if (!lowest) return null;
  const broken = standings
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

const Row = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
`;
