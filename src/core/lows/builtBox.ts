import {
  bandTimes,
  boxDifferences,
  correctedLengthM,
  fitMeasuredBox,
  mostMisfit,
  peakCount,
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
  /** Whether model and measurement agree well enough for anything to be told from them. */
  readonly isOfThis: boolean;
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
  if (plan.kind === 'vented' && peakCount(impedance, bandTimes * system.driver.fsHz) < 2)
    throw problem('one_peak_of_a_vented_box', box.name, ...onePeak);
  let built: MeasuredBox;
  try {
    built = fitMeasuredBox({ ...system, enclosure: plan }, impedance);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw problem('box_not_in_impedance', box.name, error.message, '', '');
  }
  const plannedHz = plan.kind === 'vented' ? tuningHz(plan.volumeM3, plan.port, system.air) : null;
  const isOfThis = built.misfit <= mostMisfit;
  const corrected =
    plannedHz === null || !isOfThis
      ? null
      : 1000 * correctedLengthM(built, portMm / 1000, plannedHz, system.air);
  return {
    built,
    plannedLitres: 1000 * plan.volumeM3,
    plannedHz,
    isOfThis,
    differences: boxDifferences(plan, built).map((one) => ({
      ...one,
      told: toldDifference(one, plan),
    })),
    correctedMm: corrected === null || corrected < 0 ? null : corrected,
  };
}

const percent = (ratio: number) => `${formatNumber(Math.round(100 * Math.abs(ratio - 1)))} %`;

/** An impedance with one peak against a plan that has two: what, why, how to mend. */
export const onePeak = [
  'This impedance has one peak, and a vented box has two with a saddle between them.',
  'Its port is shut, the box leaks as much as its port lets through, or this is the driver alone or another box.',
  'Open the port and measure from 10 Hz on, or take the right file.',
] as const;

/** What a difference is likely to be. */
export function toldDifference(
  { kind, ratio }: BoxDifference,
  plan: { readonly ql: number | null },
): string {
  const more = ratio > 1;
  switch (kind) {
    case 'driver':
      return `The driver’s suspension is ${percent(ratio)} ${more ? 'softer' : 'stiffer'} than its figures say, as one that ${more ? 'has run in' : 'is new or cold'} is: no fault of the box. Put the driver’s own figures into its sheet.`;
    case 'volume':
      return more
        ? `The box acts ${percent(ratio)} larger than planned: more fill, or driver, braces and port take less room.`
        : `The box acts ${percent(ratio)} smaller than planned: driver, braces or port take more room, or less fill.`;
    case 'port':
      return more
        ? `The port acts ${percent(ratio)} longer than planned: its inner end is near a wall or in fill, or it was cut longer.`
        : `The port acts ${percent(ratio)} shorter than planned: its ends are less obstructed, or it was cut shorter.`;
    case 'leak':
      return `It leaks: joints, terminals, the driver’s gasket or a porous dust cap${plan.ql === null ? '' : ` (leakage Q ${formatFixed(ratio, 2)} × the planned one)`}.`;
  }
}
