import { formatFixed, formatNumber } from '@/core/units/quantity';

/** A sentence about what an answer means, with its arithmetic for whoever asks. */
export interface Consequence {
  readonly id: string;
  /** `waits` for an answer, `conflict` when answers contradict each other. */
  readonly tone: 'plain' | 'fine' | 'conflict' | 'waits';
  readonly text: string;
  /** One line per step. */
  readonly arithmetic: readonly string[];
}

/** `+ 3.0`, `− 6.4`: a term of a sum, with its sign apart. */
export const term = (value: number, decimals = 1): string =>
  `${value < 0 ? '−' : '+'} ${formatFixed(Math.abs(value), decimals)}`;

export const decibels = (value: number, decimals = 1) => `${formatFixed(value, decimals)} dB`;
export const metres = (mm: number) => `${formatNumber(mm / 1000, 3)} m`;
export const litres = (value: number) => `${formatNumber(value, 3)} litres`;
export const hertz = (value: number) => `${formatNumber(value, 3)} Hz`;
export const watts = (value: number) => `${formatNumber(value, value < 10 ? 2 : 3)} W`;
