import type { Netlist } from './netlist';

/** A complex quantity over frequency. */
export interface Curve {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** Probes of a network over frequency with their exact derivatives, worked out when asked for. */
export interface Sensitivity {
  /**
   * Solves the network for the values of a netlist with the planned topology.
   *
   * @param lossSlopes per wanted element, ohms by which its series resistance rises for a factor of
   *   e in its value; null when no derivatives will be asked for
   */
  solve(netlist: Netlist, lossSlopes: Float64Array | null): void;
  /** Each probe, of the last solution. */
  readonly values: readonly Curve[];
  /**
   * Change of a probe for a factor of e in the value of each wanted element: of element `w` at
   * frequency `i` at `w · points + i`. Made once for each solution.
   */
  slopes(probe: number): Curve;
}
