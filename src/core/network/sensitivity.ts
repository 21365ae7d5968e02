import type { OnePortImpedance } from './blockSystem';
import { createGradientSolver } from './gradient';
import type { Netlist } from './netlist';
import type { Probe } from './outputs';
import { planNetwork } from './plan';
import { createTreeSensitivity } from './treeSensitivity';

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
  quantities: readonly Quantity[],
  wanted: readonly string[],
  frequencyHz: Float64Array,
): Sensitivity =>
  createTreeSensitivity(netlist, onePorts, probes, quantities, wanted, frequencyHz) ??
  createBlockSensitivity(netlist, onePorts, probes, quantities, wanted, frequencyHz);

/** The same for any network, from the derivatives of every probe. */
export function createBlockSensitivity(
  netlist: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  probes: readonly Probe[],
  quantities: readonly Quantity[],
  wanted: readonly string[],
  frequencyHz: Float64Array,
): Sensitivity {
  const points = frequencyHz.length;
  const solver = createGradientSolver(
    planNetwork(netlist),
    netlist,
    onePorts,
    probes,
    wanted,
    frequencyHz,
  );
  const curves = (length: number) =>
    quantities.map(() => ({ re: new Float64Array(length), im: new Float64Array(length) }));
  const values = curves(points);
  const slopes = curves(points * wanted.length);
  const isMade = new Uint8Array(quantities.length);
  return {
    values,
    solve(given, lossSlopes) {
      solver.solve(given, lossSlopes);
      isMade.fill(0);
      quantities.forEach((terms, q) => {
        values[q].re.fill(0);
        values[q].im.fill(0);
        for (const { probe, weight } of terms)
          addWeighted(solver.re[probe], solver.im[probe], weight, values[q], 0);
      });
    },
    slopes(q) {
      if (isMade[q]) return slopes[q];
      isMade[q] = 1;
      slopes[q].re.fill(0);
      slopes[q].im.fill(0);
      for (const { probe, weight } of quantities[q])
        wanted.forEach((_, w) =>
          addWeighted(
            solver.slopeRe[probe][w],
            solver.slopeIm[probe][w],
            weight,
            slopes[q],
            w * points,
          ),
        );
      return slopes[q];
    },
  };
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
