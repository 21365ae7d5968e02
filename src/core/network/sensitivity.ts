import type { Netlist } from './netlist';

/** A complex quantity over frequency. */
export interface Curve {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** A sum of probes, each times something known over frequency: a driver's pressure per volt. */
export type Quantity = readonly {
  /** Number of the probe. */
  readonly probe: number;
  /** Null for 1. */
  readonly weight: Curve | null;
}[];

/** Quantities of a network over frequency with their exact derivatives, worked out when asked for. */
export interface Sensitivity {
  /**
   * Solves the network for the values of a netlist with the planned topology.
   *
   * @param lossSlopes per wanted element, ohms by which its series resistance rises for a factor of
   *   e in its value; null when no derivatives will be asked for
   */
  solve(netlist: Netlist, lossSlopes: Float64Array | null): void;
  /** Each quantity, of the last solution. */
  readonly values: readonly Curve[];
  /**
   * Change of a quantity for a factor of e in the value of each wanted element: of element `w` at
   * frequency `i` at `w · points + i`. Made once for each solution.
   */
  slopes(quantity: number): Curve;
}

/** Adds a curve times a weight to another, from a place on. */
export function addWeighted(
  re: Float64Array,
  im: Float64Array,
  weight: Curve | null,
  { re: outRe, im: outIm }: Curve,
  from: number,
): void {
  if (!weight) {
    for (let i = 0; i < re.length; i++) {
      outRe[from + i] += re[i];
      outIm[from + i] += im[i];
    }
    return;
  }
  const { re: wRe, im: wIm } = weight;
  for (let i = 0; i < re.length; i++) {
    outRe[from + i] += wRe[i] * re[i] - wIm[i] * im[i];
    outIm[from + i] += wRe[i] * im[i] + wIm[i] * re[i];
  }
}
