import type { PartId } from '@/core/fields';
import { designGridHz } from '@/core/grid/logGrid';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import { checkValues } from '@/core/network/check';
import { topologyKey } from '@/core/network/netlist';
import type { Solver } from '@/core/network/solver';
import { ProblemError } from '@/core/problem';
import { createBaffleEffect } from './baffleEffect';
import { createConditioner } from './conditioner';
import { levelDbOf } from './derived';
import { inspectInputs, inspectSum, type UsableWay } from './inspect';
import { type Finding, type PairLoad, type Prediction, type WayPrediction } from './prediction';
import { summarise } from './summary';
import { createMemory } from './memory';
import { createStrains } from './strain';
import { createOffAxis } from './offAxisInputs';
import { pairLoadsOf, solvableOf, solverFor, type Solvable } from './solvable';
import type { Design } from '@/core/document/schema';
import { createWayInputs } from './wayInputs';
import { createWindowLevel, type HeardDriver } from './windowLevel';

interface PredictOptions {
  /**
   * A part to leave out of this prediction: a series part becomes a wire, a shunt part is taken
   * away.
   */
  readonly bypassedPartId?: PartId | null;
  /**
   * Leaves out the listening window where it would have to be worked out anew, and is called then:
   * curves come first.
   */
  readonly onWindowLater?: () => void;
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
  const baffleEffectOf = createBaffleEffect(frequencyHz);
  const inputs = createWayInputs(frequencyHz, baffleEffectOf);
  const rememberSolver = createMemory<Solver>();
  const condition = createConditioner();
  const { strainOf } = createStrains(frequencyHz);
  const windowLevelOf = createWindowLevel(
    createOffAxis(frequencyHz, condition, baffleEffectOf),
    frequencyHz.length,
  );

  function solve(circuit: Solvable): Solver {
    const { netlist, loads } = circuit;
    const [bad] = checkValues(netlist);
    if (bad) throw new ProblemError(bad);
    const solver = rememberSolver('', [topologyKey(netlist), ...loads.values()], () =>
      solverFor(circuit, frequencyHz),
    );
    solver.solve(netlist);
    return solver;
  }

  /**
   * The solution of a design; null while no way can be computed; a problem where none is finite.
   */
  function solved(design: Design, data: MeasurementData, bypassedPartId: PartId | null) {
    try {
      const circuit = solvableOf(design, data, condition, inputs, bypassedPartId);
      return circuit && ({ kind: 'solved', circuit, solver: solve(circuit) } as const);
    } catch (error) {
      if (error instanceof ProblemError)
        return { kind: 'problem', problem: error.problem } as const;
      throw error;
    }
  }

  /** The drivers of each way that are heard, with the voltages that the circuit puts on them. */
  function heardIn({ usable }: Solvable, { re, im }: Solver, design: Design): HeardDriver[][] {
    let first = 0;
    return usable.map(({ ends }) => {
      const from = first;
      first += ends.length;
      return ends.flatMap((end, e): HeardDriver[] => {
        const { response, driver, sign } = end;
        if (!response) return [];
        const radiation = inputs.radiationOf({ ...end, response }, design);
        return [{ driver, radiation, sign, volts: { re: re[from + e], im: im[from + e] } }];
      });
    });
  }

  return (design, data, { bypassedPartId = null, onWindowLater } = {}) => {
    const findings = inspectInputs(design, data, condition);
    const solution = solved(design, data, bypassedPartId);
    if (solution?.kind !== 'solved')
      return withoutWays(
        frequencyHz,
        solution
          ? [...findings, { ...solution.problem, severity: 'stops' as const, about: null }]
          : findings,
      );
    const { circuit, solver } = solution;
    const heard = heardIn(circuit, solver, design);
    const pressures = heard.map((drivers) => pressureOf(drivers, frequencyHz.length));
    const voltages = voltagesOf(circuit.usable, solver);
    const ways = circuit.usable.map(({ way, ends }, w): WayPrediction => ({
      wayId: way.id,
      pressure: pressures[w],
      levelDb: levelDbOf(pressures[w]),
      voltage: voltages[w],
      gaps: ends.flatMap(({ gaps }) => gaps),
    }));
    const sum = heard.some((drivers) => drivers.length > 0) ? sumOf(pressures) : null;
    const window = sum && windowLevelOf(design, heard.flat(), data, onWindowLater ?? null);
    const loads = pairLoadsOf(circuit, solver);
    const impedance = hardest(loads);
    return {
      frequencyHz,
      ways,
      sum,
      window,
      impedance,
      loads,
      strains: strainsOf(circuit, solver, design),
      findings: sum
        ? [...findings, ...inspectSum(design, circuit.usable, frequencyHz, ways, sum.levelDb)]
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
  window: null,
  impedance: null,
  loads: [],
  strains: [],
  findings,
  summary: summarise(frequencyHz, null, null),
});

/** Pressure of some drivers together. */
function pressureOf(drivers: readonly HeardDriver[], points: number): GridSpectrum {
  const re = new Float64Array(points);
  const im = new Float64Array(points);
  for (const { radiation, volts, sign } of drivers)
    for (let i = 0; i < points; i++) {
      re[i] += sign * (radiation.re[i] * volts.re[i] - radiation.im[i] * volts.im[i]);
      im[i] += sign * (radiation.re[i] * volts.im[i] + radiation.im[i] * volts.re[i]);
    }
  return { re, im };
}

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
