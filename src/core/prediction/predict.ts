import type { PartId } from '@/core/fields';
import { designGridHz } from '@/core/grid/logGrid';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Solver } from '@/core/network/solver';
import { levelDbOf } from './derived';
import { inspectInputs, type UsableWay } from './inspect';
import { inspectSum } from './inspectSum';
import { type Finding, type PairLoad, type Prediction, type WayPrediction } from './prediction';
import { summarise } from './summary';
import { createStrains } from './strain';
import { createHearing } from './hearing';
import { rangeOfWay } from './wayOrder';
import { pairLoadsOf, type Solvable } from './solvable';
import type { Design } from '@/core/document/schema';
import {
  createOffAxisLevels,
  nothingOffAxis,
  type HeardDriver,
  type OffAxisExtent,
  sumIn,
} from './offAxisLevels';

interface PredictOptions {
  /**
   * A part to leave out of this prediction: a series part becomes a wire, a shunt part is taken
   * away.
   */
  readonly bypassedPartId?: PartId | null;
  /** How much of what is off the axis: curves may come first. By default all of it. */
  readonly offAxis?: OffAxisExtent;
}

/** Predicts designs one after the other; steps whose input did not change keep their result. */
export type Predictor = (
  design: Design,
  data: MeasurementData,
  options?: PredictOptions,
) => Prediction;

/**
 * A predictor on one frequency grid.
 *
 * @param frequencyHz rising frequencies in Hz; by default 20 Hz to 20 kHz, 48 per octave
 */
export function createPredictor(frequencyHz: Float64Array = designGridHz()): Predictor {
  const { condition, sendingOf, hear } = createHearing(frequencyHz);
  const { strainOf } = createStrains(frequencyHz);
  const offAxisLevelsOf = createOffAxisLevels(sendingOf, frequencyHz.length);

  return (design, data, { bypassedPartId = null, offAxis = 'whole' } = {}) => {
    const findings = inspectInputs(design, data, condition);
    const solution = hear(design, data, bypassedPartId);
    if (solution?.kind !== 'heard')
      return withoutWays(
        frequencyHz,
        solution
          ? [...findings, { ...solution.problem, severity: 'stops' as const, about: null }]
          : findings,
      );
    const { circuit, solver, ways: heard } = solution;
    const pressures = heard.map((drivers) => onAxisOf(drivers, frequencyHz.length));
    const voltages = voltagesOf(circuit.usable, solver);
    const ways = circuit.usable.map(({ way, ends }, w): WayPrediction => ({
      wayId: way.id,
      range: rangeOfWay(ends),
      pressure: pressures[w],
      levelDb: levelDbOf(pressures[w]),
      voltage: voltages[w],
      gaps: ends.flatMap(({ gaps }) => gaps),
    }));
    const sum = heard.some((drivers) => drivers.length > 0) ? sumOf(pressures) : null;
    const loads = pairLoadsOf(circuit, solver);
    const impedance = hardest(loads);
    return {
      frequencyHz,
      ways,
      sum,
      offAxis: offAxisLevelsOf(design, heard.flat(), data, offAxis),
      impedance,
      loads,
      strains: strainsOf(circuit, solver, design),
      findings: sum
        ? [...findings, ...inspectSum(circuit.usable, frequencyHz, ways, sum.levelDb)]
        : findings,
      summary: summarise(frequencyHz, sum, impedance),
    };
  };

  function strainsOf({ usable, loads, onePorts }: Solvable, { re, im }: Solver, design: Design) {
    let e = 0;
    return usable.flatMap(({ way, ends }) =>
      ends.map((end) => {
        const strain = strainOf(way.id, end, re[e], im[e], loads.get(onePorts[e])!, design);
        e++;
        return strain;
      }),
    );
  }
}

/** One prediction from nothing; see {@link createPredictor} for many. */
export function predict(
  design: Design,
  data: MeasurementData,
  options?: PredictOptions,
): Prediction {
  return createPredictor()(design, data, options);
}

const withoutWays = (frequencyHz: Float64Array, findings: readonly Finding[]): Prediction => ({
  frequencyHz,
  ways: [],
  sum: null,
  offAxis: nothingOffAxis,
  impedance: null,
  loads: [],
  strains: [],
  findings,
  summary: summarise(frequencyHz, null, null),
});

/** Pressure of some drivers together on the design axis. */
const onAxisOf = (drivers: readonly HeardDriver[], points: number): GridSpectrum =>
  sumIn(
    drivers.map(({ radiation }) => [radiation]),
    drivers,
    0,
    points,
  );

/** Voltage at the end of each way: of drivers in series across all of them. */
function voltagesOf(usable: readonly UsableWay[], solver: Solver): GridSpectrum[] {
  let first = 0;
  return usable.map(({ way, ends }) => {
    const re = solver.re[first].slice();
    const im = solver.im[first].slice();
    if (way.endsJoin === 'series')
      for (let e = first + 1; e < first + ends.length; e++)
        for (let i = 0; i < re.length; i++) {
          re[i] += solver.re[e][i];
          im[i] += solver.im[e][i];
        }
    first += ends.length;
    return { re, im };
  });
}

function sumOf(pressures: readonly GridSpectrum[]): Prediction['sum'] {
  const [first, ...others] = pressures;
  const pressure = { re: first.re.slice(), im: first.im.slice() };
  for (const { re, im } of others)
    for (let i = 0; i < re.length; i++) {
      pressure.re[i] += re[i];
      pressure.im[i] += im[i];
    }
  return { pressure, levelDb: levelDbOf(pressure) };
}

/** At each frequency the load of least magnitude; null without any. */
function hardest(loads: readonly PairLoad[]): Prediction['impedance'] {
  if (loads.length < 2) return loads.at(0) ?? null;
  const worst = loads[0].ohms.map((_, i) =>
    loads.reduce((least, { ohms }, k) => (ohms[i] < loads[least].ohms[i] ? k : least), 0),
  );
  return {
    ohms: loads[0].ohms.map((_, i) => loads[worst[i]].ohms[i]),
    phaseDeg: loads[0].phaseDeg.map((_, i) => loads[worst[i]].phaseDeg[i]),
  };
}
