import { partsOf, type Design } from '@/core/document/schema';
import { driveVoltsOf } from '@/core/document/programme';
import type { LimitOf } from '@/core/fitting/goal';
import type { PriceRates } from '@/core/fitting/limits';
import { costAt, outlayOf } from '@/core/fitting/outlay';
import type { Playback } from '@/core/fitting/play/playback';
import type { Variable } from '@/core/fitting/variables';
import type { FitInputs } from '@/core/fitting/inputs';
import { decibelsPerNeper, firmRate, singleTerm, type Term, type TermContext } from './term';

/**
 * Heat of each resistor under programme at the amplifier's power: P = Σ shares·|V|²/R over the
 * frequencies (Joule's law). Null while that power is not known.
 */
export function createHeat(
  { design, frequencyHz, resistors, variables }: Playback,
  { shares }: FitInputs,
) {
  const driveVolts = driveVoltsOf(design);
  if (driveVolts === null) return null;
  const points = frequencyHz.length;
  const factor = (driveVolts / design.amplifier.volts) ** 2;
  const squares = shares.map((share) => factor * share);
  const watts = (k: number) => {
    const { volts, ohms } = resistors[k];
    let sum = 0;
    for (let i = 0; i < points; i++)
      sum += squares[i] * (volts.re[i] * volts.re[i] + volts.im[i] * volts.im[i]);
    return sum / ohms;
  };
  return {
    count: resistors.length,
    watts,
    slope(v: number, k: number): number {
      const { name, ohms, volts } = resistors[k];
      const { re, im } = volts.slopes();
      let sum = 0;
      for (let i = 0; i < points; i++)
        sum +=
          2 * squares[i] * (volts.re[i] * re[v * points + i] + volts.im[i] * im[v * points + i]);
      // A resistor that moves changes by itself as well.
      const isMoved = variables[v].members.some(({ part }) => part.name === name);
      return sum / ohms - (isMoved ? watts(k) : 0);
    },
    hottest: () => resistors.reduce((most, _, k) => Math.max(most, watts(k)), 0),
  };
}

export function heatTerm(
  limit: LimitOf<'heat'>,
  { playback }: TermContext,
  heat: NonNullable<ReturnType<typeof createHeat>>,
): Term {
  return singleTerm({
    limit,
    rate: firmRate,
    count: heat.count,
    excess: (k) => 10 * Math.log10(heat.watts(k) / limit.mostWatts),
    slopes(k, out, at) {
      const scale = decibelsPerNeper / 2 / heat.watts(k);
      for (let v = 0; v < playback.variables.length; v++) out[at + v] = scale * heat.slope(v, k);
    },
    figure: heat.hottest,
  });
}

/** Cost of the parts of a design, moved values at what these cost. */
export function outlayAt(design: Design, variables: readonly Variable[], rates: PriceRates) {
  const moving = new Set(variables.flatMap(({ members }) => members.map(({ part }) => part.id)));
  const still = outlayOf(
    partsOf(design).filter(({ id }) => !moving.has(id)),
    rates,
  );
  const costs = (v: number, logValue: number) =>
    variables[v].members
      .filter(({ part }) => !part.isOff)
      .map(({ part, ratio }) => costAt(part, Math.exp(logValue) * ratio, rates));
  return {
    total: (logValues: Float64Array): number =>
      variables.reduce(
        (sum, _, v) => costs(v, logValues[v]).reduce((own, { cost }) => own + cost, sum),
        still,
      ),
    slope: (logValues: Float64Array, v: number): number =>
      costs(v, logValues[v]).reduce((sum, { slope }) => sum + slope, 0),
  };
}

export function outlayTerm(limit: LimitOf<'outlay'>, { playback }: TermContext): Term {
  const { design, variables, logValues } = playback;
  const { total, slope } = outlayAt(design, variables, limit.rates);
  return singleTerm({
    limit,
    rate: firmRate,
    count: 1,
    excess: () => 10 * Math.log10(total(logValues) / limit.most),
    slopes(_, out, at) {
      const scale = decibelsPerNeper / 2 / total(logValues);
      for (let v = 0; v < variables.length; v++) out[at + v] = scale * slope(logValues, v);
    },
    figure: () => total(logValues),
  });
}
