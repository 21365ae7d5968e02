import type { WayId } from '@/core/fields';
import { formatQuantity } from '@/core/units/quantity';
import type { Box } from '@/core/document/boxSchema';
import type { Design, Measurement } from '@/core/document/schema';
import { toldInBox } from './boxes';

/** Where the curves of a way come from, in words. */
interface Provenance {
  readonly wayId: WayId;
  readonly wayName: string;
  /** Each of response and impedance: the file, when it was read, what is done to it. */
  readonly sources: readonly string[];
}

/** Every way with the measurements that its curves rest on. */
export function provenance({ ways, drivers, measurements, boxes }: Design): Provenance[] {
  const find = (id: string | null) => measurements.find((one) => one.id === id);
  return ways.map(({ id, name, ends }) => {
    const sources = ends.flatMap(({ driverId }) => {
      const driver = drivers.find((one) => one.id === driverId)!;
      const whose = ends.length === 1 ? '' : ` of ${driver.name}`;
      const box = boxes.find((one) => one.isUsed && one.driverIds.includes(driver.id));
      return [
        { what: `Response${whose}`, measurement: find(driver.responseId) },
        { what: `Impedance${whose}`, measurement: find(driver.impedanceId) },
      ].map(({ what, measurement }) =>
        box && measurement
          ? `${toldSource(what, measurement)} ${toldBox(box, measurement)}`
          : toldSource(what, measurement),
      );
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

/** Which box is in a curve, and what became of the one in which it was measured. */
const toldBox = (box: Box, { inBox }: Measurement): string =>
  inBox.kind === 'unknown'
    ? `Below ${formatQuantity(box.spliceHz, 'hertz')} the model of ${box.name}: it is not said in which box it was measured.`
    : `In ${box.name}; the box in which it was measured (${toldInBox(inBox)}) is divided out.`;
