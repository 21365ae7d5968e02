import type { OnePortImpedance } from './blockSystem';
import { createGradientSolver } from './gradient';
import type { Netlist } from './netlist';
import type { Probe } from './outputs';
import { planNetwork } from './plan';
import { addWeighted, type Quantity, type Sensitivity } from './sensitivity';

/** Quantities of any network with their derivatives, from the derivatives of every probe. */
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
