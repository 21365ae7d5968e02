import type { PartId } from '@/core/fields';
import { compileNetwork, type CompiledNetwork } from '@/core/circuit/compileNetwork';
import type { Design } from '@/core/document/schema';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import { createGradientSolver, type GradientSolver } from '@/core/network/gradient';
import type { Probe } from '@/core/network/outputs';
import { planNetwork } from '@/core/network/plan';
import { createSolver, type Solver } from '@/core/network/solver';
import { phasesDeg } from '@/core/spectrum/level';
import type { Conditioner } from './conditioner';
import { magnitudesOf } from './derived';
import { usableWays, type UsableDriver, type UsableWay } from './inspect';
import type { PairLoad } from './prediction';
import type { WayInputs } from './wayInputs';

/**
 * A design made ready to be solved: its circuit, and what its drivers bring to it. The only door
 * from a design to its solution; whoever solves one comes through here.
 */
export interface Solvable extends CompiledNetwork {
  readonly usable: readonly UsableWay[];
  /** Drivers in the order of the one-ports and of their probes. */
  readonly ends: readonly UsableDriver[];
  /** Impedances by the names of the one-ports, ohms. */
  readonly loads: ReadonlyMap<string, GridSpectrum>;
}

/** @returns null while no way can be computed */
export function solvableOf(
  design: Design,
  data: MeasurementData,
  condition: Conditioner,
  { loadOf }: Pick<WayInputs, 'loadOf'>,
  bypassedPartId: PartId | null = null,
): Solvable | null {
  const usable = usableWays(design, data, condition);
  if (usable.length === 0) return null;
  const compiled = compileNetwork(design, usable, bypassedPartId);
  const ends = usable.flatMap((way) => way.ends);
  const loads = new Map(compiled.onePorts.map((name, e) => [name, loadOf(ends[e])]));
  return { ...compiled, usable, ends, loads };
}

type Circuit = Pick<Solvable, 'netlist' | 'loads' | 'probes'>;

/**
 * A solver for a circuit and all others of its topology; nothing is solved yet.
 *
 * @throws ProblemError as {@link createSolver} does
 */
export const solverFor = ({ netlist, loads, probes }: Circuit, frequencyHz: Float64Array): Solver =>
  createSolver(planNetwork(netlist), netlist, loads, probes, frequencyHz);

/**
 * The same with derivatives with respect to the values of some elements, by their names.
 *
 * @param more probes besides those of the circuit, after them
 * @throws ProblemError as {@link createSolver} does
 */
export const gradientSolverFor = (
  { netlist, loads, probes }: Circuit,
  wanted: readonly string[],
  frequencyHz: Float64Array,
  more: readonly Probe[] = [],
): GradientSolver =>
  createGradientSolver(
    planNetwork(netlist),
    netlist,
    loads,
    [...probes, ...more],
    wanted,
    frequencyHz,
  );

/** What the amplifier at each pair of terminals sees, once the circuit is solved. */
export const pairLoadsOf = (
  { amplifiers, ends }: Pick<Solvable, 'amplifiers' | 'ends'>,
  solver: Pick<Solver, 're' | 'im'>,
): PairLoad[] =>
  amplifiers.map((pair, k) => ({
    pairId: pair.id,
    name: pair.name,
    ...inputImpedance(solver, ends.length + 2 * k),
  }));

/**
 * Terminal voltage over the current that leaves the source: two probes that stand one after the
 * other.
 */
function inputImpedance(solver: Pick<Solver, 're' | 'im'>, first: number) {
  const [vRe, vIm] = [solver.re[first], solver.im[first]];
  const [iRe, iIm] = [solver.re[first + 1], solver.im[first + 1]];
  const re = new Float64Array(vRe.length);
  const im = new Float64Array(vRe.length);
  for (let i = 0; i < re.length; i++) {
    // SPICE counts the source's current inward; the load draws the opposite.
    const scale = -1 / (iRe[i] * iRe[i] + iIm[i] * iIm[i]);
    re[i] = (vRe[i] * iRe[i] + vIm[i] * iIm[i]) * scale;
    im[i] = (vIm[i] * iRe[i] - vRe[i] * iIm[i]) * scale;
  }
  return { ohms: magnitudesOf({ re, im }), phaseDeg: phasesDeg(re, im, re) };
}
