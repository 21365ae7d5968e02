import type { Design } from '@/core/document/schema';
import type { PartId } from '@/core/fields';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import { checkValues } from '@/core/network/check';
import { topologyKey } from '@/core/network/netlist';
import type { Solver } from '@/core/network/solver';
import { ProblemError, type Problem } from '@/core/problem';
import { createBaffleEffect } from './baffleEffect';
import { createConditioner, type Conditioner } from './conditioner';
import { createMemory } from './memory';
import { createOffAxis } from './offAxisInputs';
import { createSending, type HeardDriver, type SendingOf } from './offAxisLevels';
import { solvableOf, solverFor, type Solvable } from './solvable';
import { createWayInputs } from './wayInputs';

/** A solved design: its circuit, and what its drivers send with their voltages. */
export interface Heard {
  readonly kind: 'heard';
  readonly circuit: Solvable;
  readonly solver: Solver;
  /** By way, in the order of the circuit; drivers without a response are left out. */
  readonly ways: readonly (readonly HeardDriver[])[];
}

/** The way from a design to what its drivers send; steps whose input did not change keep theirs. */
export interface Hearing {
  readonly condition: Conditioner;
  readonly sendingOf: SendingOf;
  /** Null while no way can be computed; the problem where no finite solution exists. */
  readonly hear: (
    design: Design,
    data: MeasurementData,
    bypassedPartId?: PartId | null,
  ) => Heard | { readonly kind: 'problem'; readonly problem: Problem } | null;
}

/** @param frequencyHz rising frequencies in Hz */
export function createHearing(frequencyHz: Float64Array): Hearing {
  const condition = createConditioner();
  const baffleEffectOf = createBaffleEffect(frequencyHz);
  const offAxisOf = createOffAxis(frequencyHz, condition, baffleEffectOf);
  const inputs = createWayInputs(frequencyHz, baffleEffectOf, offAxisOf);
  const rememberSolver = createMemory<Solver>();

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

  function waysOf(
    { usable }: Solvable,
    { re, im }: Solver,
    design: Design,
    data: MeasurementData,
  ): HeardDriver[][] {
    let first = 0;
    return usable.map(({ ends }) => {
      const from = first;
      first += ends.length;
      return ends.flatMap((end, e): HeardDriver[] => {
        const { response, driver, sign } = end;
        if (!response) return [];
        const radiation = inputs.radiationOf({ ...end, response }, design, data);
        const volts: GridSpectrum = { re: re[from + e], im: im[from + e] };
        return [{ driver, radiation, sign, volts }];
      });
    });
  }

  return {
    condition,
    sendingOf: createSending(offAxisOf, frequencyHz.length),
    hear(design, data, bypassedPartId = null) {
      try {
        const circuit = solvableOf(design, data, condition, inputs, bypassedPartId);
        if (!circuit) return null;
        const solver = solve(circuit);
        return { kind: 'heard', circuit, solver, ways: waysOf(circuit, solver, design, data) };
      } catch (error) {
        if (error instanceof ProblemError) return { kind: 'problem', problem: error.problem };
        throw error;
      }
    },
  };
}
