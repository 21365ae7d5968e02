import { compileNetwork, type CompiledNetwork } from '@/core/circuit/compileNetwork';
import type { Design } from '@/core/document/schema';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Conditioner } from './conditioner';
import { usableWays, type UsableDriver, type UsableWay } from './inspect';
import type { WayInputs } from './wayInputs';

/** A design made ready to be solved: its circuit, and what its drivers bring to it. */
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
  bypassedPartId: string | null = null,
): Solvable | null {
  const usable = usableWays(design, data, condition);
  if (usable.length === 0) return null;
  const compiled = compileNetwork(design, usable, bypassedPartId);
  const ends = usable.flatMap((way) => way.ends);
  const loads = new Map(compiled.onePorts.map((name, e) => [name, loadOf(ends[e])]));
  return { ...compiled, usable, ends, loads };
}
