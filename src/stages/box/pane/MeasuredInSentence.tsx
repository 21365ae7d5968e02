'use client';
import { driversInBox } from '@/core/cabinet/driversInBox';
import { fills } from '@/core/box/fill';
import { heldIn } from '@/core/cabinet/heldIn';
import { fillWords } from '@/core/told/boxes';
import type { Box, InBox } from '@/core/document/boxSchema';
import type { Design, Measurement } from '@/core/document/schema';
import { useDesk } from '@/desk/DeskContext';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Quiet, Sentence } from '@/ui/sheets';
import type { BoxEdits } from '@/stages/box/useBoxEdits';

interface MeasuredInProps {
  readonly design: Design;
  readonly box: Box;
  readonly edits: BoxEdits;
}

/** In which box the drivers' responses and impedances were measured: that one is divided out. */
export function MeasuredInSentence({ design, box, edits }: MeasuredInProps) {
  const own = driversInBox(box, design.drivers);
  const rows = own.flatMap((driver) =>
    [
      { what: 'response', id: driver.responseId },
      { what: 'impedance', id: driver.impedanceId },
    ].flatMap(({ what, id }) => {
      const measurement = design.measurements.find((one) => one.id === id);
      return measurement ? [{ driver, what, measurement }] : [];
    }),
  );
  if (rows.length === 0) return null;
  const isAnyUnknown = rows.some(({ measurement }) => measurement.inBox.kind === 'unknown');
  return (
    <details open={isAnyUnknown}>
      <summary>Measured in</summary>
      {rows.map(({ driver, what, measurement }) => (
        <OneSentence
          key={`${driver.id} ${what}`}
          name={`${driver.name}, ${what}`}
          {...{ design, box, measurement }}
        />
      ))}
      {isAnyUnknown && (
        <Sentence>
          Where it is not said, the model is used below{' '}
          <QuantityBlank
            label="Splice"
            dimension="hertz"
            min={20}
            max={2000}
            stepBy={10}
            value={box.spliceHz}
            onChange={(spliceHz) =>
              spliceHz !== null && edits.set(box, { spliceHz }, 'splice', 'splice')
            }
          />
          , the measurement above.
        </Sentence>
      )}
      <Quiet as="p">What is said is divided out, and the box in use multiplied in.</Quiet>
    </details>
  );
}

const kinds = [
  { id: 'unknown', text: 'not said' },
  { id: 'free', text: 'no box' },
  { id: 'sealed', text: 'a sealed box' },
  { id: 'vented', text: 'a vented box' },
] as const;

function OneSentence({
  name,
  design,
  box,
  measurement: { id, inBox },
}: {
  readonly name: string;
  readonly design: Design;
  readonly box: Box;
  readonly measurement: Measurement;
}) {
  const desk = useDesk();
  const set = (next: InBox, key?: string) =>
    desk.change({ type: 'editMeasurement', id, set: { inBox: next } }, `box of ${name}`, key);
  return (
    <Sentence>
      {name}:{' '}
      <ChoiceBlank
        label={`${name}: measured in`}
        isAlwaysSaid
        options={kinds}
        value={inBox.kind}
        onChange={(kind) => kind !== null && set(heldIn(box, kind, design))}
      />
      {(inBox.kind === 'sealed' || inBox.kind === 'vented') && (
        <>
          {' '}
          of{' '}
          <QuantityBlank
            label={`${name}: litres of its box`}
            dimension="litre"
            min={0.1}
            max={5000}
            stepBy={1}
            value={inBox.litres}
            onChange={(litres) => litres !== null && set({ ...inBox, litres }, `litres ${id}`)}
          />
          ,{' '}
          <ChoiceBlank
            label={`${name}: fill of its box`}
            isAlwaysSaid
            options={fills.map((fill) => ({ id: fill, text: fillWords[fill] }))}
            value={inBox.fill}
            onChange={(fill) => fill !== null && set({ ...inBox, fill })}
          />
        </>
      )}
      {inBox.kind === 'vented' && (
        <>
          {', '}
          tuned to{' '}
          <QuantityBlank
            label={`${name}: tuning of its box`}
            dimension="hertz"
            min={5}
            max={300}
            stepBy={1}
            value={inBox.tunedHz}
            onChange={(tunedHz) => tunedHz !== null && set({ ...inBox, tunedHz }, `tuned ${id}`)}
          />
        </>
      )}
      .
    </Sentence>
  );
}
