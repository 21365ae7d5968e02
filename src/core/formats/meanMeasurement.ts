import { plainStatement, type Measurement } from '@/core/document/schema';
import { fileFingerprint, samplesId, type Samples } from '@/core/measurement/samples';
import { cutText } from '@/core/text';

/**
 * The mean of several measurements as a measurement of its own, whose origin names them.
 *
 * @param of the measurements that were averaged, one or more; microphone and drive are the first
 *   one's
 * @param mean their mean
 * @param madeAt ISO 8601 time
 */
export function meanMeasurement(
  of: readonly Measurement[],
  mean: Samples,
  madeAt: string,
): Measurement {
  const [first] = of;
  const names = of.map(({ name }) => name).join(', ');
  return {
    id: samplesId(mean),
    name: cutText(`mean of ${names}`, 80),
    kind: first.kind,
    origin: {
      fileName: cutText(`mean of ${names}`, 255),
      fileSha256: fileFingerprint(
        new Uint8Array(of.flatMap(({ id }) => [...id].map((c) => c.charCodeAt(0)))),
      ),
      importedAt: madeAt,
      rowCount: mean.frequencyHz.length,
      readAs: `the mean of ${of.length} measurements as their steps left them`,
      kindReason: 'they are',
      header: [],
      warnings: [],
    },
    microphone: first.microphone,
    driveVolts: first.driveVolts,
    ...plainStatement,
    angle: first.angle,
  };
}
