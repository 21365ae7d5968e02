import type { PartId } from '@/core/fields';
import { lossExponent, partLoss } from '@/core/document/partKinds';
import { partsOf, type Design, type Part } from '@/core/document/schema';
import type { MeasurementData } from '@/core/measurement/samples';
import { createBaffleEffect } from '@/core/prediction/baffleEffect';
import { createConditioner } from '@/core/prediction/conditioner';
import { gradientSolverFor, solvableOf, type Solvable } from '@/core/prediction/solvable';
import { createOffAxis } from '@/core/prediction/offAxisInputs';
import { createWayInputs } from '@/core/prediction/wayInputs';
import { ProblemError } from '@/core/problem';

/** A circuit with its drivers, and how their voltages make the sum on the axis. */
export interface SummedCircuit extends Solvable {
  readonly frequencyHz: Float64Array;
  readonly sumOf: (
    re: readonly Float64Array[],
    im: readonly Float64Array[],
  ) => { readonly re: Float64Array; readonly im: Float64Array };
}

/** @returns null while no way can be computed */
export function summedCircuit(
  design: Design,
  data: MeasurementData,
  frequencyHz: Float64Array,
): SummedCircuit | null {
  const condition = createConditioner();
  const baffleEffectOf = createBaffleEffect(frequencyHz);
  const offAxisOf = createOffAxis(frequencyHz, condition, baffleEffectOf);
  const inputs = createWayInputs(frequencyHz, baffleEffectOf, offAxisOf);
  const solvable = solvableOf(design, data, condition, inputs);
  if (!solvable) return null;
  const voices = solvable.ends.map((end) =>
    end.response
      ? { ...inputs.radiationOf({ ...end, response: end.response }, design, data), sign: end.sign }
      : null,
  );
  return {
    ...solvable,
    frequencyHz,
    sumOf(re, im) {
      const total = {
        re: new Float64Array(frequencyHz.length),
        im: new Float64Array(frequencyHz.length),
      };
      voices.forEach((voice, e) => {
        if (!voice) return;
        for (let i = 0; i < frequencyHz.length; i++) {
          total.re[i] += voice.sign * (voice.re[i] * re[e][i] - voice.im[i] * im[e][i]);
          total.im[i] += voice.sign * (voice.re[i] * im[e][i] + voice.im[i] * re[e][i]);
        }
      });
      return total;
    },
  };
}

/**
 * Change of the level for a slope of one neper in the value, when the value grows by a tenth:
 * 20·log(e)·ln 1.1.
 */
const decibelsPerTenth = (20 / Math.LN10) * Math.log(1.1);

/**
 * Sum on the axis, and how much each of some parts moves its level for a value larger by a tenth,
 * all by the exact derivatives of one solution. A value that is changed by hand takes its loss
 * along, and so does its influence.
 *
 * @throws ProblemError where no finite solution exists
 */
export function influencesOf(circuit: SummedCircuit, parts: readonly Part[]) {
  const { netlist, frequencyHz, sumOf } = circuit;
  const names = parts.map(({ name }) => name);
  const solver = gradientSolverFor(circuit, names, frequencyHz);
  const lossSlopes = parts.map((part) => lossExponent(part) * partLoss(part));
  solver.solve(netlist, Float64Array.from(lossSlopes));
  const sum = sumOf(solver.re, solver.im);
  const influencesDb = parts.map((_, p) => {
    const slope = sumOf(
      solver.slopeRe.map((own) => own[p]),
      solver.slopeIm.map((own) => own[p]),
    );
    return sum.re.map(
      (re, i) =>
        (decibelsPerTenth * (slope.re[i] * re + slope.im[i] * sum.im[i])) /
        (re * re + sum.im[i] ** 2),
    );
  });
  return { sum, influencesDb };
}

/**
 * How much each part moves the level at one frequency for a value larger by a tenth, the strongest
 * first.
 */
export function partsActingAt(
  design: Design,
  data: MeasurementData,
  hz: number,
): { readonly partId: PartId; readonly partName: string; readonly db: number }[] {
  const circuit = summedCircuit(design, data, Float64Array.of(hz, hz * 1.001));
  const names = new Set(circuit?.netlist.elements.map(({ name }) => name));
  const parts = partsOf(design).filter(({ name }) => names.has(name));
  if (!circuit || parts.length === 0) return [];
  try {
    const { influencesDb } = influencesOf(circuit, parts);
    return parts
      .map(({ id, name }, p) => ({ partId: id, partName: name, db: influencesDb[p][0] }))
      .filter(({ db }) => Number.isFinite(db))
      .sort((a, b) => Math.abs(b.db) - Math.abs(a.db));
  } catch (error) {
    if (error instanceof ProblemError) return [];
    throw error;
  }
}
