import { passiveEquivalent, type PassiveEquivalent } from '@/core/driver/equivalent';
import type { MeasurementData, Samples } from '@/core/measurement/samples';
import { writeSpice, type StandIn } from '@/core/network/writeSpice';
import { createConditioner } from '@/core/prediction/conditioner';
import { solvableOf } from '@/core/prediction/solvable';
import { createLoads } from '@/core/prediction/wayInputs';
import type { Design } from '@/core/document/schema';

/** Frequency at which a driver's impedance is stated where one number must do. */
const statedHz = 1000;

/** Fitting takes a moment, and decks are written again and again of the same drivers. */
const known = new WeakMap<Samples, PassiveEquivalent>();

function equivalentOf(impedance: Samples): PassiveEquivalent {
  const found = known.get(impedance) ?? passiveEquivalent(impedance);
  known.set(impedance, found);
  return found;
}

/**
 * The network of a design as a SPICE deck. A measured impedance has no standard form in SPICE: each
 * driver is written as a passive equivalent fitted to it, with a remark on how close that comes.
 *
 * @returns null while no way can be computed
 */
export function networkDeck(design: Design, data: MeasurementData): string | null {
  const statedAt = createLoads(Float64Array.of(statedHz));
  const circuit = solvableOf(design, data, createConditioner(), statedAt);
  if (!circuit) return null;
  const { usable, netlist, onePorts, loads } = circuit;
  const ends = usable.flatMap(({ way, ends: own }) => own.map((end) => ({ way, ...end })));
  const standIns = new Map(
    onePorts.map((onePort, e): [string, StandIn] => {
      const { way, driver, impedance } = ends[e];
      const { re, im } = loads.get(onePort)!;
      const ohms = Number(Math.hypot(re[0], im[0]).toPrecision(4));
      const { sections, worstPercent, rmsPercent, fromHz, toHz } = equivalentOf(impedance);
      const remark = `${way.name}: ${driver.name}, ${ohms} ohm at ${statedHz} Hz; within ${worstPercent.toFixed(1)} % (rms ${rmsPercent.toFixed(2)} %) of what was measured from ${fromHz.toFixed(0)} to ${toHz.toFixed(0)} Hz`;
      return [onePort, { chain: sections, ohms, remark }];
    }),
  );
  // A driver that is turned round is in the deck with its nodes exchanged.
  const turned = new Set(onePorts.filter((_, e) => ends[e].sign === -1));
  const elements = netlist.elements.map((element) =>
    turned.has(element.name) ? { ...element, a: element.b, b: element.a } : element,
  );
  return writeSpice({ ...netlist, elements }, design.name, standIns);
}
