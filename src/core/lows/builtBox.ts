import {
  boxDifferences,
  correctedLengthM,
  fitMeasuredBox,
  type BoxDifference,
  type MeasuredBox,
} from '@/core/box/measuredBox';
import { tuningHz } from '@/core/box/enclosure';
import { boxedDrivers } from '@/core/cabinet/enclosureOf';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import type { MeasurementData, Samples } from '@/core/measurement/samples';
import { figuresFor } from '@/core/prediction/inBox';
import { problem } from '@/core/problem';
import { formatFixed, formatNumber } from '@/core/units/quantity';

/** What a built box is, by its impedance, beside its plan. */
export interface BuiltBox {
  readonly built: MeasuredBox;
  readonly plannedLitres: number;
  readonly plannedHz: number | null;
  readonly differences: readonly (BoxDifference & { readonly told: string })[];
  /** Port that gives the planned tuning, mm; null without a port, or where none does. */
  readonly correctedMm: number | null;
}

/**
 * A built box from the impedance at its driver's terminals, held against its plan.
 *
 * @param portMm length of the port that was in it, as it was cut
 * @param data numbers of the design's measurements, for the figures of its driver
 * @throws ProblemError when the box has no plan to be held against, or the impedance tells too little
 */
export function builtBoxOf(
  design: Design,
  box: Box,
  portMm: number,
  impedance: Samples,
  data: MeasurementData,
): BuiltBox {
  const boxed = boxedDrivers(box, design, (driver) => figuresFor(design, driver, data));
  const plan = boxed?.system.enclosure;
  if (!boxed || !plan || (plan.kind !== 'sealed' && plan.kind !== 'vented'))
    throw problem(
      'no_plan_to_compare',
      box.name,
      'Only a sealed or vented box whose driver is known can be told from its impedance.',
      '',
      'Choose such a box, and give its driver fs, Qms, Qes, Vas, Sd and Re.',
    );
  const { system } = boxed;
  let built: MeasuredBox;
  try {
    built = fitMeasuredBox({ ...system, enclosure: plan }, impedance);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw problem('box_not_in_impedance', box.name, error.message, '', '');
  }
  const plannedHz = plan.kind === 'vented' ? tuningHz(plan.volumeM3, plan.port, system.air) : null;
  const corrected =
    plannedHz === null
      ? null
      : 1000 * correctedLengthM(built, portMm / 1000, plannedHz, system.air);
  return {
    built,
    plannedLitres: 1000 * plan.volumeM3,
    plannedHz,
    differences: boxDifferences(plan, built).map((one) => ({ ...one, told: toldDifference(one) })),
    correctedMm: corrected === null || corrected < 0 ? null : corrected,
  };
}

const percent = (ratio: number) => `${formatNumber(Math.round(100 * Math.abs(ratio - 1)))} %`;

function toldDifference({ kind, ratio }: BoxDifference): string {
  const more = ratio > 1;
  switch (kind) {
    case 'volume':
      return more
        ? `The box acts ${percent(ratio)} larger than planned: more fill, or driver, braces and port take less room.`
        : `The box acts ${percent(ratio)} smaller than planned: driver, braces or port take more room, or less fill.`;
    case 'port':
      return more
        ? `The port acts ${percent(ratio)} longer than planned: its inner end is near a wall or in fill, or it was cut longer.`
        : `The port acts ${percent(ratio)} shorter than planned: its ends are less obstructed, or it was cut shorter.`;
    case 'leak':
      return `It leaks: joints, terminals, the driver’s gasket or a porous dust cap (leakage Q ${formatFixed(ratio, 2)} × the planned one).`;
  }
}
