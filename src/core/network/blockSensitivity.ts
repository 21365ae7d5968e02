import type { OnePortImpedance } from './blockSystem';
import { createGradientSolver } from './gradient';
import type { Netlist } from './netlist';
import type { Probe } from './outputs';
import { planNetwork } from './plan';
import type { Sensitivity } from './sensitivity';

/** Probes of any network with their derivatives. */
export function createBlockSensitivity(
  netlist: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  probes: readonly Probe[],
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
  const slopes = probes.map(() => ({
    re: new Float64Array(points * wanted.length),
    im: new Float64Array(points * wanted.length),
  }));
  const isMade = new Uint8Array(probes.length);
  return {
    values: probes.map((_, p) => ({ re: solver.re[p], im: solver.im[p] })),
    solve(given, lossSlopes) {
      solver.solve(given, lossSlopes);
      isMade.fill(0);
    },
    slopes(p) {
      const own = slopes[p];
      if (isMade[p]) return own;
      isMade[p] = 1;
      for (let w = 0; w < wanted.length; w++) {
        own.re.set(solver.slopeRe[p][w], w * points);
        own.im.set(solver.slopeIm[p][w], w * points);
      }
      return own;
    },
  };
}
