'use client';
import type { Measurement } from '@/core/document/schema';
import type { Step } from '@/core/measurement/steps/kinds';
import { roundedDown } from '@/core/units/rounding';
import { nearDistanceShare, nearFieldTopHz } from '@/core/measurement/splice';
import { formatFixed, formatQuantity, type Dimension } from '@/core/units/quantity';
import { ChoiceBlank, QuantityBlank, TextBlank } from '@/ui/fields/Blank';

interface StepSentenceProps {
  readonly step: Step;
  readonly others: readonly Measurement[];
  readonly onChange: (step: Step) => void;
}

/** A step as a sentence whose blanks can be changed. */
export function StepSentence({ step, others, onChange }: StepSentenceProps) {
  const blank = (
    label: string,
    dimension: Dimension,
    value: number,
    [min, max, stepBy]: readonly [number, number, number],
    change: (value: number) => Step,
  ) => (
    <QuantityBlank
      label={label}
      value={value}
      dimension={dimension}
      min={min}
      max={max}
      stepBy={stepBy}
      onChange={(next) => next !== null && onChange(change(next))}
    />
  );
  const hertz = [1, 100_000, 10] as const;
  const slopes = [-120, 120, 1] as const;
  const named = others.map(({ id, name }) => ({ id, text: name }));
  switch (step.kind) {
    case 'level':
      return (
        <>
          Add{' '}
          {blank('level added', 'decibel', step.addedDb, [-300, 300, 0.1], (addedDb) => ({
            ...step,
            addedDb,
          }))}{' '}
          for microphone and amplifier.
        </>
      );
    case 'gate':
      return (
        <>
          Keep{' '}
          {blank(
            'length of the gate',
            'millisecond',
            step.lengthMs,
            [0.2, 1000, 0.1],
            (lengthMs) => ({
              ...step,
              lengthMs,
            }),
          )}{' '}
          after the arrival.
        </>
      );
    case 'splice':
      return (
        <>
          Below{' '}
          {blank('middle of the join', 'hertz', step.atHz, hertz, (atHz) => ({ ...step, atHz }))}{' '}
          take{' '}
          <ChoiceBlank
            label="near field"
            options={named}
            value={step.nearId}
            onChange={(nearId) => nearId !== null && onChange({ ...step, nearId })}
          />{' '}
          of a cone of radius{' '}
          {blank('radius of the cone', 'millimetre', step.radiusMm, [1, 1000, 1], (radiusMm) => ({
            ...step,
            radiusMm,
          }))}
          , with a port{' '}
          <ChoiceBlank
            label="near field of the port"
            placeholder="none"
            options={named}
            value={step.portId}
            onChange={(portId) =>
              onChange({ ...step, portId, portRadiusMm: step.portRadiusMm ?? 35 })
            }
          />
          {step.portId !== null && (
            <>
              {' '}
              of radius{' '}
              {blank(
                'radius of the port',
                'millimetre',
                step.portRadiusMm ?? 35,
                [1, 1000, 1],
                (portRadiusMm) => ({
                  ...step,
                  portRadiusMm,
                }),
              )}
            </>
          )}
          , and the step of a baffle{' '}
          <QuantityBlank
            label="width of the baffle"
            placeholder="none"
            value={step.stepWidthMm}
            dimension="millimetre"
            min={20}
            max={5000}
            stepBy={10}
            onChange={(stepWidthMm) => onChange({ ...step, stepWidthMm })}
          />{' '}
          wide. The near microphone is within {formatFixed(nearDistanceShare * step.radiusMm, 0)} mm
          of the middle; what it says holds up to{' '}
          {formatQuantity(roundedDown(nearFieldTopHz(step.radiusMm), 2), 'hertz')} (ka = 1).
        </>
      );
    case 'bridge':
      return (
        <>
          From{' '}
          {blank('start of the interpolation', 'hertz', step.fromHz, hertz, (fromHz) => ({
            ...step,
            fromHz,
          }))}{' '}
          to{' '}
          {blank('end of the interpolation', 'hertz', step.toHz, hertz, (toHz) => ({
            ...step,
            toHz,
          }))}{' '}
          a straight line, because of{' '}
          <TextBlank
            label="reason of the interpolation"
            value={step.reason}
            onChange={(reason) => onChange({ ...step, reason })}
          />
          .
        </>
      );
    case 'tails':
      return (
        <>
          Below{' '}
          {blank('end of the lower tail', 'hertz', step.belowHz, hertz, (belowHz) => ({
            ...step,
            belowHz,
          }))}{' '}
          a straight line of{' '}
          {blank(
            'slope of the lower tail',
            'slope',
            step.belowDbPerOctave,
            slopes,
            (belowDbPerOctave) => ({
              ...step,
              belowDbPerOctave,
            }),
          )}
          , above{' '}
          {blank('start of the upper tail', 'hertz', step.aboveHz, hertz, (aboveHz) => ({
            ...step,
            aboveHz,
          }))}{' '}
          one of{' '}
          {blank(
            'slope of the upper tail',
            'slope',
            step.aboveDbPerOctave,
            slopes,
            (aboveDbPerOctave) => ({
              ...step,
              aboveDbPerOctave,
            }),
          )}
          .
        </>
      );
    case 'phase':
      return (
        <>
          In the place of the measured phase,{' '}
          <ChoiceBlank
            label="delay"
            options={[
              { id: 'kept', text: 'with the measured delay' },
              { id: 'dropped', text: 'without any delay' },
            ]}
            value={step.keepsDelay ? 'kept' : 'dropped'}
            onChange={(chosen) => chosen && onChange({ ...step, keepsDelay: chosen === 'kept' })}
          />
          .
        </>
      );
    case 'delay':
      return (
        <>
          Later by{' '}
          {blank('delay added', 'millisecond', step.addedMs, [-100, 100, 0.01], (addedMs) => ({
            ...step,
            addedMs,
          }))}
          .
        </>
      );
  }
}
