import { numbered, type Item } from './item';
import { toldInBox } from './boxes';
import { formatNumber } from '@/core/units/quantity';
import { bodyDepthMm, boundsOf } from '@/core/document/baffleSchema';
import type { Step } from '@/core/measurement/steps/kinds';
import { type Design, type Measurement } from '@/core/document/schema';

/* Measurements in words. */

export function measurements({ measurements: curves }: Design): Item[] {
  const names = numbered(curves);
  return curves.flatMap((measurement): Item[] => {
    const { id, kind, microphone, driveVolts, angle, measuredOn, inBox, recipe, ...rest } =
      measurement;
    const name = names.get(id)!;
    const { placement, distanceMm, commonTiming } = microphone;
    return [
      {
        key: id,
        what: name,
        text: `${kind}, ${placement}, ${formatNumber(distanceMm)} mm, ${commonTiming ? 'common timing' : 'own timing'}, ${formatNumber(driveVolts)} V`,
        raw: { ...rest, kind, microphone, driveVolts },
      },
      {
        key: `${id} angle`,
        what: `${name}, angle`,
        text: angle ? `${angle.plane} ${formatNumber(angle.degrees)}°` : 'not said',
        raw: angle,
      },
      {
        key: `${id} baffle`,
        what: `${name}, measured on`,
        text: toldMeasuredOn(measuredOn),
        raw: measuredOn,
      },
      {
        key: `${id} box`,
        what: `${name}, box`,
        text: toldInBox(inBox),
        raw: inBox,
      },
      {
        key: `${id} steps`,
        what: `${name}, steps`,
        text: recipe.map(toldStep).join('; ') || 'none',
        raw: recipe,
      },
    ];
  });
}

/** The baffle that a response holds, in words. */
export function toldMeasuredOn(measuredOn: Measurement['measuredOn']): string {
  if (measuredOn.kind !== 'baffle')
    return { unknown: 'not said', wall: 'a wall', 'near-field': 'near field' }[measuredOn.kind];
  const { body, xMm, yMm } = measuredOn;
  const { widthMm, heightMm } = boundsOf(body.corners);
  return `${formatNumber(widthMm)} × ${formatNumber(heightMm)} × ${formatNumber(bodyDepthMm(body))} mm at ${formatNumber(xMm)}, ${formatNumber(yMm)} mm`;
}

/** A step and its figures, under their names. */
function toldStep({ kind, isOn, ...figures }: Step): string {
  const values = Object.entries(figures).map(
    ([key, value]: [string, unknown]) =>
      `${key} ${typeof value === 'number' ? formatNumber(value) : String(value)}`,
  );
  return `${kind}${isOn ? '' : ' (off)'} ${values.join(', ')}`;
}
