import { partsOf, type Design } from '@/core/document/schema';
import type { Goal } from '@/core/fitting/goal';
import { costAt, outlayOf } from '@/core/fitting/outlay';
import type { Variable } from '@/core/fitting/variables';
import { type Term, decibelsPerNeper, limitFactor } from './term';

/** Heat of each resistor, as decibels of power over what it may be. */
export function heatTerm(
  { weight, mostWatts }: NonNullable<Goal['heat']>,
  resistorCount: number,
): Term {
  const factor = (weight * limitFactor * decibelsPerNeper) / 2;
  return {
    rows: resistorCount,
    residuals({ playback: { watts } }, _, out, row) {
      for (let k = 0; k < resistorCount; k++)
        out[row + k] = watts![k] > mostWatts ? factor * Math.log(watts![k] / mostWatts) : 0;
    },
    derivatives({ playback: { watts } }, _, { watts: slope }, column, row) {
      for (let k = 0; k < resistorCount; k++)
        if (watts![k] > mostWatts) column[row + k] = (factor * slope[k]) / watts![k];
    },
  };
}

/** Cost of the parts of a design, moved values at what these cost. */
export function outlayAt(
  design: Design,
  variables: readonly Variable[],
  rates: NonNullable<Goal['outlay']>['rates'],
) {
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

/** Cost of the parts, as decibels over what it may be. */
export function outlayTerm(
  { weight, most, rates }: NonNullable<Goal['outlay']>,
  design: Design,
  variables: readonly Variable[],
): Term {
  const factor = (weight * limitFactor * decibelsPerNeper) / 2;
  const { total, slope } = outlayAt(design, variables, rates);
  return {
    rows: 1,
    residuals({ logValues }, _, out, row) {
      out[row] = factor * Math.max(0, Math.log(total(logValues) / most));
    },
    derivatives({ logValues }, _, { variable }, column, row) {
      const cost = total(logValues);
      if (cost > most) column[row] = (factor * slope(logValues, variable)) / cost;
    },
  };
}
