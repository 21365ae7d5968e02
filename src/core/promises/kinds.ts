import type { PromiseKind } from '@/core/document/briefSchema';
import { formatFixed, type Dimension } from '@/core/units/quantity';

/** What is always true of a kind of promise. */
export interface KindFacts {
  /** Short name for the strip. */
  readonly title: string;
  /** What is promised, for a sentence. */
  readonly meaning: string;
  /** Unit written after the figure. */
  readonly unit: string;
  readonly decimals: number;
  /** Side on which a figure of this kind is usually limited. */
  readonly side: 'atMost' | 'atLeast';
  /** Limit that a promise of this kind made by hand begins with. */
  readonly usual: number;
  /** How far from the limit the little scale of the strip reaches, in the unit. */
  readonly scale: number;
  /** Whether the promise is about a band of frequency. */
  readonly hasBand: boolean;
  /** Dimension of its limits where a field reads one. */
  readonly dimension: Dimension;
  /** Stage where the matter is mended. */
  readonly stage: 'brief' | 'bench' | 'network' | 'box' | 'baffle' | 'around' | 'parts';
}

const kept = { hasBand: false } as const;

export const kinds: Readonly<Record<PromiseKind, KindFacts>> = {
  'on-axis': {
    ...kept,
    title: 'On axis',
    meaning: 'Response on axis against the target',
    unit: 'dB',
    decimals: 1,
    side: 'atMost',
    usual: 2,
    scale: 3,
    hasBand: true,
    dimension: 'decibel',
    stage: 'network',
  },
  window: {
    ...kept,
    title: 'Window',
    meaning: 'Response in the listening window',
    unit: 'dB',
    decimals: 1,
    side: 'atMost',
    usual: 2.5,
    scale: 3,
    hasBand: true,
    dimension: 'decibel',
    stage: 'around',
  },
  'reach-3': {
    ...kept,
    title: 'Reach −3 dB',
    meaning: 'Frequency at which the lows are 3 dB down',
    unit: 'Hz',
    decimals: 0,
    side: 'atMost',
    usual: 50,
    scale: 40,
    dimension: 'hertz',
    stage: 'network',
  },
  'reach-10': {
    ...kept,
    title: 'Reach −10 dB',
    meaning: 'Frequency at which the lows are 10 dB down',
    unit: 'Hz',
    decimals: 0,
    side: 'atMost',
    usual: 35,
    scale: 30,
    dimension: 'hertz',
    stage: 'network',
  },
  sensitivity: {
    ...kept,
    title: 'Sensitivity',
    meaning: 'Mean level for 2.83 V at the terminals, 1 m, 300 Hz–3 kHz',
    unit: 'dB',
    decimals: 1,
    side: 'atLeast',
    usual: 85,
    scale: 8,
    dimension: 'decibel',
    stage: 'network',
  },
  'seat-level': {
    ...kept,
    title: 'Level at seat',
    meaning: 'Level of the loudest sine at the farthest seat',
    unit: 'dB',
    decimals: 0,
    side: 'atLeast',
    usual: 100,
    scale: 15,
    dimension: 'decibel',
    stage: 'brief',
  },
  'lowest-impedance': {
    ...kept,
    title: 'Lowest |Z|',
    meaning: 'Smallest impedance at the terminals',
    unit: 'Ω',
    decimals: 1,
    side: 'atLeast',
    usual: 3.2,
    scale: 4,
    dimension: 'ohm',
    stage: 'network',
  },
  'equivalent-resistance': {
    ...kept,
    title: 'Equivalent R',
    meaning: 'Resistor with the same greatest instantaneous stress of a class-B stage',
    unit: 'Ω',
    decimals: 1,
    side: 'atLeast',
    usual: 2,
    scale: 3,
    dimension: 'ohm',
    stage: 'network',
  },
  'phase-tracking': {
    ...kept,
    title: 'Phase tracking',
    meaning: 'Phase between neighbouring ways, from what their slopes are meant to make',
    unit: '°',
    decimals: 0,
    side: 'atMost',
    usual: 30,
    scale: 60,
    dimension: 'degree',
    stage: 'network',
  },
  directivity: {
    ...kept,
    title: 'Directivity',
    meaning: 'Smoothness of the directivity index',
    unit: 'dB',
    decimals: 1,
    side: 'atMost',
    usual: 1.5,
    scale: 3,
    hasBand: true,
    dimension: 'decibel',
    stage: 'around',
  },
  cost: {
    ...kept,
    title: 'Cost',
    meaning: 'Cost of one speaker',
    unit: '',
    decimals: 0,
    side: 'atMost',
    usual: 300,
    scale: 200,
    dimension: 'number',
    stage: 'parts',
  },
  'outside-size': {
    ...kept,
    title: 'Outside',
    meaning: 'Outside volume of the cabinet',
    unit: 'l',
    decimals: 1,
    side: 'atMost',
    usual: 60,
    scale: 40,
    dimension: 'litre',
    stage: 'box',
  },
  'resistor-heat': {
    ...kept,
    title: 'Hottest part',
    meaning: 'Heat in the hottest resistor against its rating',
    unit: 'of the rating',
    decimals: 2,
    side: 'atMost',
    usual: 0.5,
    scale: 0.6,
    dimension: 'number',
    stage: 'parts',
  },
  travel: {
    ...kept,
    title: 'Travel',
    meaning:
      'Xmax over the peak travel at the loudness asked for, of the driver that is nearest to it',
    unit: '×',
    decimals: 2,
    side: 'atLeast',
    usual: 1,
    scale: 1,
    dimension: 'number',
    stage: 'brief',
  },
  'driver-power': {
    ...kept,
    title: 'Drivers’ power',
    meaning: 'Rated power over what the programme gives, of the driver that is nearest to it',
    unit: '×',
    decimals: 2,
    side: 'atLeast',
    usual: 1,
    scale: 1,
    dimension: 'number',
    stage: 'network',
  },
  'port-speed': {
    ...kept,
    title: 'Port speed',
    meaning: 'Peak air speed in the port',
    unit: 'm/s',
    decimals: 0,
    side: 'atMost',
    usual: 17,
    scale: 15,
    dimension: 'number',
    stage: 'box',
  },
};

/**
 * A figure of a kind as it is written: `±1.5 dB`, `48 Hz`, `30°`.
 *
 * @param moreDecimals than usual, where small steps are compared
 */
export function figureText(kind: PromiseKind, value: number, moreDecimals = 0): string {
  const { unit, decimals } = kinds[kind];
  const gap = unit === '' || unit === '°' ? '' : ' ';
  return `${kind === 'on-axis' || kind === 'window' ? '±' : ''}${formatFixed(value, decimals + moreDecimals)}${gap}${unit}`;
}

/** The limits of a promise: `≥ 4.8 Ω`. */
export const limitText = ({
  kind,
  atLeast,
  atMost,
}: {
  readonly kind: PromiseKind;
  readonly atLeast: number | null;
  readonly atMost: number | null;
}): string =>
  [
    atLeast === null ? '' : `≥ ${figureText(kind, atLeast)}`,
    atMost === null ? '' : `≤ ${figureText(kind, atMost)}`,
  ]
    .filter(Boolean)
    .join(' ');
