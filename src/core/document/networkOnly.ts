import { offPanel, type Design } from './schema';

/** Items of the first list, and those of the second that it lacks. */
function joined<T extends { readonly id: string }>(items: readonly T[], more: readonly T[]): T[] {
  const known = new Set(items.map(({ id }) => id));
  return [...items, ...more.filter(({ id }) => !known.has(id))];
}

/**
 * A design with the network of another: its ways, bridges, terminals, switches and couplings.
 * Everything else stays, the brief and its promises among it. Drivers that only the other has, and
 * that its ways end in, come along with their measurements, mounted on nothing yet.
 */
export function withNetworkOf(design: Design, other: Design): Design {
  const used = new Set(other.ways.flatMap(({ ends }) => ends.map(({ driverId }) => driverId)));
  const known = new Set(design.drivers.map(({ id }) => id));
  const missing = other.drivers.filter(({ id }) => used.has(id) && !known.has(id)).map(offPanel);
  const { ways, bridges, terminals, isJoined, switches, couplings } = other;
  return {
    ...design,
    drivers: [...design.drivers, ...missing],
    measurements:
      missing.length === 0 ? design.measurements : joined(design.measurements, other.measurements),
    ...{ ways, bridges, terminals, isJoined, switches, couplings },
  };
}

/** A design as the brief, the target and the promises of another judge it. */
export const judgedAs = (
  design: Design,
  { brief, target, promises }: Pick<Design, 'brief' | 'target' | 'promises'>,
): Design => ({ ...design, brief, target, promises });
