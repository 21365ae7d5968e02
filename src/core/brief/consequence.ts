import { meanLevelDb, sensitivityBand } from '@/core/design/figures';
import type { Prediction } from '@/core/design/prediction';
import type { Design, Driver } from '@/core/design/schema';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { levelForEfficiencyDb, referenceEfficiency, sensitivityVolts } from './arithmetic';

/** A sentence about what an answer means, with its arithmetic for whoever asks. */
export interface Consequence {
  readonly id: string;
  /** `waits` for an answer, `conflict` when answers contradict each other. */
  readonly tone: 'plain' | 'fine' | 'conflict' | 'waits';
  readonly text: string;
  /** One line per step. */
  readonly arithmetic: readonly string[];
}

/** Sensitivity with where it comes from. */
export interface Sensitivity {
  readonly db: number;
  readonly from: string;
}

/** The driver with the largest cone of those whose data sheet tells it. */
export function wooferOf({ drivers }: Design): Driver | null {
  const [woofer] = drivers
    .filter(({ sheet }) => sheet.sdCm2 !== null)
    .sort((a, b) => b.sheet.sdCm2! - a.sheet.sdCm2!);
  return woofer ?? null;
}

/** Level at 2.83 V and 1 m: from the prediction if there is one, else from the woofer's data sheet. */
export function sensitivityOf(design: Design, prediction: Prediction | null): Sensitivity | null {
  const mean =
    prediction?.sum && meanLevelDb(prediction.frequencyHz, prediction.sum.levelDb, sensitivityBand);
  if (mean !== null && mean !== undefined)
    return {
      db: mean - 20 * Math.log10(design.amplifier.volts / sensitivityVolts),
      from: 'mean of the predicted sum, 300 Hz–3 kHz, 2.83 V',
    };
  const sheet = wooferOf(design)?.sheet;
  if (!sheet?.fsHz || !sheet.vasLitres || !sheet.qes || !sheet.reOhm) return null;
  const efficiency = referenceEfficiency(sheet.fsHz, sheet.vasLitres, sheet.qes);
  return {
    db: levelForEfficiencyDb(efficiency) + 10 * Math.log10(sensitivityVolts ** 2 / sheet.reOhm),
    from: `the woofer’s data sheet, half space: η₀ = ${formatNumber(100 * efficiency, 3)} %`,
  };
}

/** `+ 3.0`, `− 6.4`: a term of a sum, with its sign apart. */
export const term = (value: number, decimals = 1): string =>
  `${value < 0 ? '−' : '+'} ${formatFixed(Math.abs(value), decimals)}`;

export const decibels = (value: number, decimals = 1) => `${formatFixed(value, decimals)} dB`;
export const metres = (mm: number) => `${formatNumber(mm / 1000, 3)} m`;
export const litres = (value: number) => `${formatNumber(value, 3)} litres`;
export const hertz = (value: number) => `${formatNumber(value, 3)} Hz`;
