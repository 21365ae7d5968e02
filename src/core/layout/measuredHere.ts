import type { MeasuredOn, Panel } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import { baffleUse, type BaffleUse } from '@/core/prediction/baffleEffect';

/** What says that a driver was measured where it is now, on its front as it is now. */
export const measuredHere = (
  { position: { xMm, yMm }, mounting: { kind, byMm, frameMm, mouthMm } }: Driver,
  { kind: bodyKind, corners, depthMm, thicknessMm, wingsMm, setBackMm }: Panel,
): MeasuredOn => ({
  kind: 'baffle',
  body: { kind: bodyKind, corners, depthMm, thicknessMm, wingsMm },
  ...{ setBackMm, xMm, yMm },
  mounting: { kind, byMm, frameMm, mouthMm },
});

const uses: Readonly<Record<BaffleUse, string>> = {
  'not-mounted': 'It is on no baffle: its response is used as it was measured.',
  'off-front': 'Its middle is not on a front that turns outward only: nothing is modelled.',
  'not-said': 'On the axis: as measured, whatever baffle is in it.',
  'as-measured': 'On the axis: as measured, on this front at this place.',
  added: 'On the axis: as measured, with baffle step and edges of this front modelled.',
  exchanged:
    'On the axis: as measured, with the baffle of the measurement divided out and this one multiplied in by the model.',
  'in-recipe': 'On the axis: as measured, with the baffle step of its near-field step.',
};

/** What of a driver's radiation was measured and what is modelled, in words. */
export function toldSources(design: Design, driver: Driver): string[] {
  const statement = design.measurements.find(({ id }) => id === driver.responseId);
  const use = baffleUse(design, driver, statement);
  const angles = design.measurements.filter(
    ({ id, angle }) => driver.offAxisIds.includes(id) && angle !== null,
  );
  const widest = Math.max(0, ...angles.map(({ angle }) => Math.abs(angle!.degrees)));
  const isModelled =
    use !== 'not-mounted' &&
    use !== 'off-front' &&
    use !== 'in-recipe' &&
    driver.sheet.sdCm2 !== null;
  const rest = isModelled ? 'modelled from front and cone' : 'not known';
  return [
    ...(statement ? [uses[use]] : ['No response yet.']),
    widest > 0
      ? `Off the axis: measured up to ${widest}°${use === 'exchanged' || use === 'added' ? ', corrected by the model' : ''}; beyond, ${rest}.`
      : `Off the axis: ${rest}.`,
  ];
}
