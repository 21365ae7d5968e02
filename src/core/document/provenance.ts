import type { WayId } from '@/core/fields';
import type { Design, Measurement } from './schema';

/** Where the curves of a way come from, in words. */
interface Provenance {
  readonly wayId: WayId;
  readonly wayName: string;
  /** Each of response and impedance: the file, when it was read, what is done to it. */
  readonly sources: readonly string[];
}

/** Every way with the measurements that its curves rest on. */
export function provenance({ ways, drivers, measurements }: Design): Provenance[] {
  const find = (id: string | null) => measurements.find((one) => one.id === id);
  return ways.map(({ id, name, ends }) => {
    const sources = ends.flatMap(({ driverId }) => {
      const driver = drivers.find((one) => one.id === driverId)!;
      const whose = ends.length === 1 ? '' : ` of ${driver.name}`;
      return [
        toldSource(`Response${whose}`, find(driver.responseId)),
        toldSource(`Impedance${whose}`, find(driver.impedanceId)),
      ];
    });
    return { wayId: id, wayName: name, sources: ends.length === 0 ? ['No driver.'] : sources };
  });
}

/** One sentence on a measurement: the file, when it was read, what is done to it. */
export function toldSource(what: string, measurement: Measurement | undefined): string {
  if (!measurement) return `${what}: none.`;
  const { name, origin, recipe } = measurement;
  const steps = recipe.filter(({ isOn }) => isOn).map(({ kind }) => kind);
  const done = steps.length === 0 ? 'as measured' : `after ${steps.join(', ')}`;
  return `${what}: ${name}, from ${origin.fileName} (${origin.fileSha256.slice(0, 8)}), read ${origin.importedAt.slice(0, 10)}, ${done}.`;
}
