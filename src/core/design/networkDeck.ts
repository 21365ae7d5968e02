import { impedanceOnGrid } from '@/core/measurement/onGrid';
import { writeSpice, type StandIn } from '@/core/network/writeSpice';
import { createConditioner } from './conditioner';
import { compileNetwork } from './compileNetwork';
import { usableWays } from './inspect';
import type { MeasurementData } from './predict';
import type { Design } from './schema';

/** Frequency at which a driver's impedance is stated where only a resistor can be written. */
const statedHz = 1000;

/**
 * The network of a design as a SPICE deck. A measured impedance has no standard form in SPICE: each driver is written as a
 * resistor of its size at 1 kHz, with a remark.
 *
 * @returns null while no way can be computed
 */
export function networkDeck(design: Design, data: MeasurementData): string | null {
  const usable = usableWays(design, data, createConditioner());
  if (usable.length === 0) return null;
  const { netlist, ways } = compileNetwork(
    design,
    usable.map(({ way }) => way),
    null,
  );
  const standIns = new Map(
    ways.map(({ onePort, way }, w): [string, StandIn] => {
      const { re, im } = impedanceOnGrid(usable[w].impedance, Float64Array.of(statedHz));
      const ohms = Number(Math.hypot(re[0], im[0]).toPrecision(4));
      return [
        onePort,
        {
          ohms,
          remark: `${way.name}: ${usable[w].driver.name}, |Z| at ${statedHz} Hz of what was measured`,
        },
      ];
    }),
  );
  return writeSpice(netlist, design.name, standIns);
}
