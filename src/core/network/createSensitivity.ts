import { createBlockSensitivity } from './blockSensitivity';
import type { OnePortImpedance } from './blockSystem';
import type { Netlist } from './netlist';
import type { Probe } from './outputs';
import type { Sensitivity } from './sensitivity';
import { createTreeSensitivity } from './treeSensitivity';

/**
 * Prepares a sweep with derivatives; takes the fast way where the network allows it.
 *
 * @param wanted names of resistors, coils and capacitors
 * @throws ProblemError as `createSolver` does
 */
export const createSensitivity = (
  netlist: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  probes: readonly Probe[],
  wanted: readonly string[],
  frequencyHz: Float64Array,
): Sensitivity =>
  createTreeSensitivity(netlist, onePorts, probes, wanted, frequencyHz) ??
  createBlockSensitivity(netlist, onePorts, probes, wanted, frequencyHz);
