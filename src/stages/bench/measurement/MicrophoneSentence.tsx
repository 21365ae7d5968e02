'use client';
import styled from 'styled-components';
import type { Examination } from '@/core/insight/examine';
import type { Measurement } from '@/core/document/schema';
import { toldMeasuredOn } from '@/core/told/measurements';
import { useDesk } from '@/desk/DeskContext';
import { Choice } from '@/ui/fields/Choice';
import { QuantityField } from '@/ui/fields/QuantityField';
import { Quiet } from '@/ui/sheets';
import { Tick } from '@/ui/fields/Tick';

interface MicrophoneSentenceProps {
  readonly measurement: Measurement;
  readonly examination: Examination | null;
}

/** Where the microphone was, as a sentence: it decides whether a path is already in the data. */
export function MicrophoneSentence({
  measurement: { id, kind, microphone, driveVolts, measuredOn },
  examination,
}: MicrophoneSentenceProps) {
  const desk = useDesk();
  const set = (change: Partial<Measurement['microphone']>, label: string, mergeKey?: string) =>
    desk.change(
      { type: 'editMeasurement', id, set: { microphone: { ...microphone, ...change } } },
      label,
      mergeKey,
    );
  const isTakenOut = microphone.commonTiming && examination?.conditioned.holdsDelay === false;
  return (
    <Sentence aria-label="Microphone">
      <Choice
        label="Microphone position"
        options={[
          { id: 'design-axis', text: 'on the design axis' },
          { id: 'own-axis', text: 'on this driver’s axis' },
        ]}
        value={microphone.placement}
        onChange={(placement) => set({ placement }, 'place of the microphone')}
      />
      <QuantityField
        label="from the baffle"
        value={microphone.distanceMm}
        dimension="millimetre"
        min={1}
        max={20_000}
        step={(value, steps, isFine) => value + steps * (isFine ? 1 : 10)}
        onCommit={(distanceMm) =>
          set({ distanceMm }, 'distance of the microphone', `distance ${id}`)
        }
      />
      <QuantityField
        label="driven with"
        value={driveVolts}
        dimension="volt"
        min={0.001}
        max={100}
        onCommit={(volts) =>
          desk.change({ type: 'editMeasurement', id, set: { driveVolts: volts } }, 'drive voltage')
        }
      />
      {kind === 'response' && (
        <Choice
          label="Baffle in it"
          options={[
            { id: 'unknown', text: 'not stated' },
            { id: 'wall', text: 'none: a large wall' },
            { id: 'near-field', text: 'none: near field' },
            // A baffle is stated where it is drawn.
            ...(measuredOn.kind === 'baffle'
              ? [{ id: 'baffle' as const, text: toldMeasuredOn(measuredOn) }]
              : []),
          ]}
          value={measuredOn.kind}
          onChange={(on) =>
            on !== 'baffle' &&
            desk.change(
              { type: 'editMeasurement', id, set: { measuredOn: { kind: on } } },
              'baffle of the measurement',
            )
          }
        />
      )}
      <Tick
        isSelected={microphone.commonTiming}
        onChange={(commonTiming) => set({ commonTiming }, 'timing of the measurement')}
      >
        Timing is common to the set: flight times are in the data and are not added again.
      </Tick>
      {isTakenOut && (
        <Quiet>
          A step took the delay out, so the path is counted from the driver’s position after all.
        </Quiet>
      )}
    </Sentence>
  );
}

const Sentence = styled.section`
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr) minmax(0, 0.8fr);
  gap: 0.4rem 0.6rem;
  > label,
  > span {
    grid-column: 1 / -1;
  }
`;
