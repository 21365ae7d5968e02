import { roundedDown } from '@/core/brief/consequence';
import type { Driver, Measurement } from '@/core/document/schema';
import { nearFieldTopHz } from '@/core/measurement/splice';
import { coneRadiusM } from '@/core/radiation/piston';
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

/** Radius of a cone of which nothing is known, mm. */
const usualRadiusMm = 100;
const usualJoinHz = 300;

/** What a step may begin with, besides the numbers. */
export interface StepSetting {
  readonly others: readonly Measurement[];
  /** Driver to which the response belongs. */
  readonly driver: Driver | null;
  /** Width of the baffle: of the brief, until one is drawn. */
  readonly widthMm: number | null;
}

/** A step as it is when it is added: something that makes sense for these numbers, to be changed. */
export function firstStep(
  kind: StepKind,
  { frequencyHz, magnitude }: Samples,
  { others, driver, widthMm }: StepSetting,
): Step {
  const [lowest, highest] = [frequencyHz[0], frequencyHz[frequencyHz.length - 1]];
  switch (kind) {
    case 'level':
      return { kind, isOn: true, addedDb: 0 };
    case 'gate':
      return { kind, isOn: true, lengthMs: 5 };
    case 'splice': {
      const sdCm2 = driver?.sheet.sdCm2 ?? null;
      const radiusMm = sdCm2 === null ? usualRadiusMm : Math.round(1000 * coneRadiusM(sdCm2));
      return {
        kind,
        isOn: true,
        nearId: (others.find(({ name }) => /near/i.test(name)) ?? others[0]).id,
        radiusMm,
        portId: null,
        portRadiusMm: null,
        atHz: roundedDown(Math.min(usualJoinHz, nearFieldTopHz(radiusMm)), 2),
        stepWidthMm: widthMm,
      };
    }
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
