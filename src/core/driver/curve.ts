import { terminalImpedance, unloaded } from './model';
import type { ParameterFit } from './thieleSmall';

/** |Z| of a fitted model in free air, ohms, with the leads that were taken off before the fit. */
export function fittedMagnitude(
  { model }: ParameterFit,
  frequencyHz: Float64Array,
  leadOhm: number,
): Float64Array {
  const z = new Float64Array(2);
  return frequencyHz.map((hz) => {
    terminalImpedance(model, unloaded, hz, z, 0);
    return Math.hypot(z[0] + leadOhm, z[1]);
  });
}
