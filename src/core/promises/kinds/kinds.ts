import type { PromiseKind } from '@/core/document/briefSchema';
import { formatFixed } from '@/core/units/quantity';
import { crossoverFloor, crossoverPlace, driverPower, excursion, resonance } from './drivers';
import type { KindFacts } from './kind';
import { seatLevel, sensitivity } from './level';
import { equivalentResistance, lowestImpedance } from './load';
import { reach10, reach3 } from './lows';
import { cost, outsideSize, portSpeed, resistorHeat } from './means';
import { angle, directivity, directivitySlope, inRoom, seats, soundPower, window } from './offAxis';
import { onAxis } from './response';
import { phaseTracking, targetSlopes } from './crossover';

/** All kinds of promises, in the order in which they are listed. */
export const kinds: Readonly<Record<PromiseKind, KindFacts>> = {
  'on-axis': onAxis,
  window,
  directivity,
  'directivity-slope': directivitySlope,
  'sound-power': soundPower,
  'in-room': inRoom,
  seats,
  angle,
  'phase-tracking': phaseTracking,
  'target-slopes': targetSlopes,
  'reach-3': reach3,
  'reach-10': reach10,
  'seat-level': seatLevel,
  sensitivity,
  'lowest-impedance': lowestImpedance,
  'equivalent-resistance': equivalentResistance,
  travel: excursion,
  'driver-power': driverPower,
  resonance,
  'crossover-place': crossoverPlace,
  'crossover-floor': crossoverFloor,
  cost,
  'outside-size': outsideSize,
  'resistor-heat': resistorHeat,
  'port-speed': portSpeed,
};

/** Kinds whose figure is half the height of a band. */
const bandKinds: readonly PromiseKind[] = [
  ...(['on-axis', 'window', 'directivity', 'sound-power', 'in-room', 'seats', 'angle'] as const),
];

/** Where predictions begin, Hz. */
const lowestHz = 20;

/** The kinds, in that order. */
export const kindsInOrder = Object.keys(kinds) as PromiseKind[];

/**
 * A figure of a kind as it is written: `±1.5 dB`, `48 Hz`, `30°`.
 *
 * @param moreDecimals than usual, where small steps are compared
 */
export function figureText(kind: PromiseKind, value: number, moreDecimals = 0): string {
  const { unit, decimals } = kinds[kind];
  // Where the curve ends before it has fallen, no more is known.
  if ((kind === 'reach-3' || kind === 'reach-10') && value <= lowestHz)
    return `below ${lowestHz} Hz`;
  const gap = unit === '' || unit === '°' ? '' : ' ';
  return `${bandKinds.includes(kind) ? '±' : ''}${formatFixed(value, decimals + moreDecimals)}${gap}${unit}`;
}

/** Most decimals that a figure gets more so that it does not contradict its verdict. */
const mostMoreDecimals = 3;

/**
 * A figure beside its limits: with so many digits that, read as it is written, it keeps or breaks them as
 * it does.
 */
export function figureBeside(
  {
    kind,
    atLeast,
    atMost,
  }: {
    readonly kind: PromiseKind;
    readonly atLeast: number | null;
    readonly atMost: number | null;
  },
  value: number,
): string {
  const keeps = (figure: number) =>
    (atLeast === null || figure >= atLeast - 1e-9) && (atMost === null || figure <= atMost + 1e-9);
  const { decimals } = kinds[kind];
  let more = 0;
  while (more < mostMoreDecimals && keeps(Number(value.toFixed(decimals + more))) !== keeps(value))
    more++;
  return figureText(kind, value, more);
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
