import type { Measurement } from '@/core/design/schema';
import { endSlope } from '@/core/measurement/interpolate';
import type { Step, StepKind } from '@/core/measurement/recipe';
import type { Samples } from '@/core/measurement/samples';

export const stepNames: Readonly<Record<StepKind, string>> = {
  level: 'Level',
  gate: 'Gate',
  splice: 'Near field below',
  bridge: 'Bridge',
  tails: 'Tails',
  phase: 'Minimum phase',
  delay: 'Delay',
};

/** A step as it is when it is added: something that makes sense for these numbers, to be changed. */
export function firstStep(
  kind: StepKind,
  { frequencyHz, magnitude }: Samples,
  others: readonly Measurement[],
): Step {
  const [lowest, highest] = [frequencyHz[0], frequencyHz[frequencyHz.length - 1]];
  switch (kind) {
    case 'level':
      return { kind, isOn: true, addedDb: 0 };
    case 'gate':
      return { kind, isOn: true, lengthMs: 5 };
    case 'splice':
      return {
        kind,
        isOn: true,
        nearId: (others.find(({ name }) => /near/i.test(name)) ?? others[0]).id,
        radiusMm: 100,
        portId: null,
        portRadiusMm: null,
        atHz: 300,
        stepWidthMm: null,
      };
    case 'bridge':
      return { kind, isOn: true, fromHz: 900, toHz: 1100, reason: 'an artefact of the room' };
    case 'tails':
      return {
        kind,
        isOn: true,
        belowHz: Math.max(2 * lowest, 20),
        belowDbPerOctave: Math.max(
          0,
          6 * Math.round(endSlope(frequencyHz, magnitude, 'below') / 6),
        ),
        aboveHz: Math.min(highest / 1.1, 20_000),
        aboveDbPerOctave: Math.min(
          0,
          6 * Math.round(endSlope(frequencyHz, magnitude, 'above') / 6),
        ),
      };
    case 'phase':
      return { kind, isOn: true, keepsDelay: true };
    case 'delay':
      return { kind, isOn: true, addedMs: 0 };
  }
}
