'use client';
import type { Measurement } from '@/core/document/schema';
import { Choice } from '@/ui/fields/Choice';

type Angle = Measurement['angle'];

const notSaid = 'none';
const planes = [
  { id: notSaid, text: 'not said' },
  { id: 'horizontal', text: 'horizontal' },
  { id: 'vertical', text: 'vertical' },
] as const;

interface PlaneChoiceProps {
  /** Of the measurement, for the choice's name. */
  readonly name: string;
  readonly angle: Angle;
  readonly onChange: (angle: Angle) => void;
}

/** The plane in which a response was measured round its driver; a first choice begins at 0°. */
export const PlaneChoice = ({ name, angle, onChange }: PlaneChoiceProps) => (
  <Choice
    label={`Plane of ${name}`}
    hideLabel
    options={planes}
    value={angle?.plane ?? notSaid}
    onChange={(plane) =>
      onChange(plane === notSaid ? null : { plane, degrees: angle?.degrees ?? 0 })
    }
  />
);
