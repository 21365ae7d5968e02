import { airDensityKgpm3 } from '@/core/air/density';
import { designGridHz } from '@/core/grid/logGrid';
import { planNetwork } from '@/core/network/plan';
import { createSolver } from '@/core/network/solver';
import { ProblemError } from '@/core/problem';
import { compileNetwork } from './compileNetwork';
import { createConditioner } from './conditioner';
import { usableWays } from './inspect';
import type { MeasurementData } from './predict';
import { driveVoltsOf, programmeShares } from './programme';
import type { Design } from './schema';
import { createWayInputs } from './wayInputs';

/** What a driver has to take while the amplifier plays the programme at its rated power. */
export interface DriverLoad {
  readonly wayId: string;
  readonly driverId: string;
  readonly driverName: string;
  /** Electrical power into its impedance. */
  readonly watts: number;
  readonly ratedWatts: number | null;
  /** Peak travel to one side; null without response or piston area. */
  readonly travelMm: number | null;
  readonly allowedMm: number | null;
}

/** Peak over rms of the programme (IEC 60268-5 asks for 1.8 to 2.2; from memory). */
const crestFactor = 2;

/**
 * Works out what each driver has to take with the network in place. Travel follows from the level that it makes: a piston of
 * area S that moves by x radiates p = ρ·S·ω²·x/(2π·r) into half a space (Beranek, Acoustics). Where the baffle lets the lows
 * go round it, that is up to half of what it really is.
 *
 * @returns null while the brief does not say the amplifier's power, or nothing can be solved
 */
export function driverLoads(
  design: Design,
  data: MeasurementData,
  frequencyHz: Float64Array = designGridHz(),
): DriverLoad[] | null {
  const driveVolts = driveVoltsOf(design.brief);
  const usable = usableWays(design, data, createConditioner());
  if (driveVolts === null || usable.length === 0) return null;
  const inputs = createWayInputs(frequencyHz);
  const ends = usable.flatMap(({ way, ends: own }) => own.map((end) => ({ way, ...end })));
  const { netlist, onePorts, probes } = compileNetwork(design, usable, null);
  const loads = ends.map(inputs.loadOf);
  try {
    const byName = new Map(onePorts.map((name, e) => [name, loads[e]]));
    const solver = createSolver(planNetwork(netlist), netlist, byName, probes, frequencyHz);
    solver.solve(netlist);
    const shares = programmeShares(frequencyHz);
    const scale = (driveVolts / design.amplifier.volts) ** 2;
    const density = airDensityKgpm3(design.airTemperatureC);
    return ends.map(({ way, driver, response, ...end }, e): DriverLoad => {
      const { sdCm2, xmaxMm } = driver.sheet;
      // Far field at 1 m, as pressure per volt with 1 for 0 dB.
      const heard = response && inputs.radiationOf({ ...end, driver, response }, design);
      let [watts, squareM] = [0, 0];
      for (let i = 0; i < frequencyHz.length; i++) {
        const square = scale * shares[i] * (solver.re[e][i] ** 2 + solver.im[e][i] ** 2);
        watts += (square * loads[e].re[i]) / (loads[e].re[i] ** 2 + loads[e].im[i] ** 2);
        if (!heard || sdCm2 === null) continue;
        const pascals = 2e-5 * Math.hypot(heard.re[i], heard.im[i]) * Math.sqrt(square);
        const omega = 2 * Math.PI * frequencyHz[i];
        squareM += ((pascals * 2 * Math.PI) / (density * sdCm2 * 1e-4 * omega ** 2)) ** 2;
      }
      return {
        wayId: way.id,
        driverId: driver.id,
        driverName: driver.name,
        watts,
        ratedWatts: driver.sheet.ratedWatts,
        travelMm: heard && sdCm2 !== null ? 1000 * crestFactor * Math.sqrt(squareM) : null,
        allowedMm: xmaxMm,
      };
    });
  } catch (error) {
    if (error instanceof ProblemError) return null;
    throw error;
  }
}
