import { designGridHz } from '@/core/grid/logGrid';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import { checkValues } from '@/core/network/check';
import { topologyKey } from '@/core/network/netlist';
import { planNetwork } from '@/core/network/plan';
import { createSolver, type Solver } from '@/core/network/solver';
import { ProblemError } from '@/core/problem';
import { levelsDb, phasesDeg } from '@/core/spectrum/level';
import { createConditioner } from './conditioner';
import { compileNetwork, type CompiledNetwork } from '@/core/circuit/compileNetwork';
import { inspectInputs, inspectSum, usableWays, type UsableWay } from './inspect';
import { type Finding, type PairLoad, type Prediction, type WayPrediction } from './prediction';
import { summarise } from './summary';
import { createMemory } from './memory';
import { createStrains } from './strain';
import { createOffAxis } from './offAxisInputs';
import type { Design } from '@/core/document/schema';
import { createWayInputs } from './wayInputs';
import { createWindowLevel, type HeardDriver } from './windowLevel';

export interface PredictOptions {
  /** A part to leave out of this prediction: a series part becomes a wire, a shunt part is taken away. */
  readonly bypassedPartId?: string | null;
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
  const { radiationOf, loadOf } = createWayInputs(frequencyHz);
  const rememberSolver = createMemory<Solver>();
  const condition = createConditioner();
  const points = frequencyHz.length;
  const { strainOf } = createStrains(frequencyHz);
  const windowLevelOf = createWindowLevel(createOffAxis(frequencyHz, condition), points);

  function solveNetwork(
    { netlist, onePorts, probes }: CompiledNetwork,
    usable: readonly UsableWay[],
  ): Solver {
    const [bad] = checkValues(netlist);
    if (bad) throw new ProblemError(bad);
    const loads = usable.flatMap(({ ends }) => ends.map(loadOf));
    const solver = rememberSolver('', [topologyKey(netlist), ...loads], () =>
      createSolver(
        planNetwork(netlist),
        netlist,
        new Map(onePorts.map((onePort, i) => [onePort, loads[i]])),
        probes,
        frequencyHz,
      ),
    );
    solver.solve(netlist);
    return solver;
  }

  return (design, data, { bypassedPartId = null } = {}) => {
    const usable = usableWays(design, data, condition);
    const findings: Finding[] = inspectInputs(design, data, condition);
    const nothing = (more: readonly Finding[] = []): Prediction => ({
      frequencyHz,
      ways: [],
      sum: null,
      window: null,
      impedance: null,
      loads: [],
      strains: [],
      findings: [...findings, ...more],
      summary: summarise(frequencyHz, null, null),
    });
    if (usable.length === 0) return nothing();

    let solver: Solver;
    let compiled: CompiledNetwork;
    try {
      compiled = compileNetwork(design, usable, bypassedPartId);
      solver = solveNetwork(compiled, usable);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      return nothing([{ ...error.problem, severity: 'stops', about: null }]);
    }

    let drivers = 0;
    const heard: HeardDriver[] = [];
    const contributions = usable.map(({ ends }) => {
      const pressure = silence(points);
      const volts = silence(points);
      let isHeard = false;
      for (const end of ends) {
        const [re, im] = [solver.re[drivers], solver.im[drivers]];
        drivers++;
        const { response } = end;
        if (response) {
          isHeard = true;
          const radiation = radiationOf({ ...end, response }, design);
          heard.push({ driver: end.driver, radiation, volts: { re, im }, sign: end.sign });
          accumulate(pressure, times(radiation, re, im, end.sign));
        }
        accumulate(volts, { re, im });
      }
      return { pressure, volts, isHeard };
    });
    let e = 0;
    const strains = usable.flatMap(({ way, ends }) =>
      ends.map((end) => {
        const [re, im] = [solver.re[e], solver.im[e]];
        e++;
        return strainOf(way.id, end, re, im, loadOf(end), design);
      }),
    );
    const total = silence(points);
    for (const { pressure } of contributions) accumulate(total, pressure);
    const isAudible = contributions.some(({ isHeard }) => isHeard);
    const ways = usable.map(({ way, ends }, w): WayPrediction => {
      const { pressure, volts } = contributions[w];
      // In parallel, each of its drivers has all of the way's voltage.
      const share = way.endsJoin === 'parallel' ? 1 / ends.length : 1;
      return {
        wayId: way.id,
        ...polar(pressure),
        volts: magnitudes(volts.re, volts.im).map((size) => size * share),
        voltsPhaseDeg: phasesDeg(volts.re, volts.im, new Float64Array(points)),
        sumIfReversedDb: reversedLevel(total, pressure),
        bridges: ends.flatMap(({ bridges }) => bridges),
      };
    });
    const loads = compiled.amplifiers.map((pair, k): PairLoad => ({
      pairId: pair.id,
      name: pair.name,
      ...inputImpedance(solver, drivers + 2 * k, points),
    }));
    const impedance = hardest(loads);
    const sum = isAudible ? polar(total) : null;
    const windowDb = sum && windowLevelOf(design, heard, data);
    return {
      frequencyHz,
      ways,
      sum,
      window: windowDb && { levelDb: windowDb },
      impedance,
      loads,
      strains,
      findings: [
        ...findings,
        ...(sum ? inspectSum(design, usable, frequencyHz, ways, sum.levelDb) : []),
      ],
      summary: summarise(frequencyHz, sum, impedance),
    };
  };
}

/** One prediction from nothing; see {@link createPredictor} for many. */
export function predict(
  design: Design,
  data: MeasurementData,
  options?: PredictOptions,
): Prediction {
  return createPredictor()(design, data, options);
}

function times(
  { re, im }: GridSpectrum,
  voltsRe: Float64Array,
  voltsIm: Float64Array,
  sign: number,
): GridSpectrum {
  const outRe = new Float64Array(re.length);
  const outIm = new Float64Array(re.length);
  for (let i = 0; i < re.length; i++) {
    outRe[i] = sign * (re[i] * voltsRe[i] - im[i] * voltsIm[i]);
    outIm[i] = sign * (re[i] * voltsIm[i] + im[i] * voltsRe[i]);
  }
  return { re: outRe, im: outIm };
}

const polar = ({ re, im }: GridSpectrum) => ({
  levelDb: levelsDb(re, im, new Float64Array(re.length)),
  phaseDeg: phasesDeg(re, im, new Float64Array(re.length)),
});

/** Level of the sum with one of its parts turned round: total − 2·part. */
function reversedLevel(total: GridSpectrum, part: GridSpectrum): Float64Array {
  const re = new Float64Array(total.re.length);
  const im = new Float64Array(total.re.length);
  for (let i = 0; i < re.length; i++) {
    re[i] = total.re[i] - 2 * part.re[i];
    im[i] = total.im[i] - 2 * part.im[i];
  }
  return levelsDb(re, im, re);
}

/** Absolute values of a complex spectrum. Not Math.hypot, which guards against overflow and takes ten times as long. */
function magnitudes(re: Float64Array, im: Float64Array): Float64Array {
  const out = new Float64Array(re.length);
  for (let i = 0; i < out.length; i++) out[i] = Math.sqrt(re[i] * re[i] + im[i] * im[i]);
  return out;
}

/** Adds a spectrum to another, in place. */
function accumulate(total: GridSpectrum, part: GridSpectrum): void {
  for (let i = 0; i < total.re.length; i++) {
    total.re[i] += part.re[i];
    total.im[i] += part.im[i];
  }
}

const silence = (points: number): GridSpectrum => ({
  re: new Float64Array(points),
  im: new Float64Array(points),
});

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

/** Terminal voltage over the current that leaves the source: the probes after the ways'. */
function inputImpedance(solver: Solver, first: number, points: number) {
  const [vRe, vIm] = [solver.re[first], solver.im[first]];
  const [iRe, iIm] = [solver.re[first + 1], solver.im[first + 1]];
  const re = new Float64Array(points);
  const im = new Float64Array(points);
  for (let i = 0; i < points; i++) {
    // SPICE counts the source's current inward; the load draws the opposite.
    const scale = -1 / (iRe[i] * iRe[i] + iIm[i] * iIm[i]);
    re[i] = (vRe[i] * iRe[i] + vIm[i] * iIm[i]) * scale;
    im[i] = (vIm[i] * iRe[i] - vRe[i] * iIm[i]) * scale;
  }
  return { ohms: magnitudes(re, im), phaseDeg: phasesDeg(re, im, new Float64Array(points)) };
}
