import type { Netlist, Resistor } from '@/core/network/netlist';
import type { Design } from '@/core/document/schema';

/**
 * Elements that may represent a driver: SPICE has no table of a measured impedance, so a resistor
 * represents it.
 */
export const driverCandidates = ({ elements }: Netlist): Resistor[] =>
  elements.filter(
    (one): one is Resistor =>
      one.kind === 'resistor' && !one.name.startsWith('r_loss_of') && !one.name.includes('output'),
  );

const bare = (text: string) => text.toLowerCase().replace(/[^a-z0-9]+/g, '_');

/**
 * For each driver the element that most likely represents it, by its name or by that of its way;
 * each element once.
 *
 * @returns names of elements by the drivers' ids
 */
export function likelyDrivers(
  netlist: Netlist,
  { drivers, ways }: Pick<Design, 'drivers' | 'ways'>,
): Map<string, string> {
  const free = driverCandidates(netlist).map(({ name }) => name);
  const found = new Map<string, string>();
  for (const { id, name } of drivers) {
    const way = ways.find(({ ends }) => ends.some(({ driverId }) => driverId === id));
    const place = way ? way.ends.findIndex(({ driverId }) => driverId === id) + 1 : 0;
    const wanted = [
      ...(way
        ? [`driver_${place}_of_${bare(way.id)}`, `driver_${place}_of_way_${bare(way.name)}`]
        : []),
      `driver_1_of_way_${bare(name)}`,
      bare(name),
    ];
    const match = wanted.flatMap((word) => free.filter((one) => one.includes(word))).at(0);
    if (match === undefined) continue;
    found.set(id, match);
    free.splice(free.indexOf(match), 1);
  }
  return found;
}
