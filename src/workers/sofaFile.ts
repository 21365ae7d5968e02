import type { Directivity } from '@/core/around/directivity';

/** Name of the file within the writer’s own memory. */
const draft = 'directivity.sofa';
/** netCDF marks dimensions without numbers of their own in this way. */
const bareDimension = 'This is a netCDF dimension but not a netCDF variable.';

/**
 * Directivity as a SOFA file: AES69, convention FreeFieldDirectivityTF 1.1. The speaker is the source
 * with one emitter; receivers stand on both orbits. The writer is loaded when it is asked for.
 *
 * @param title name of the design
 */
export async function sofaFile(title: string, directivity: Directivity): Promise<Uint8Array> {
  const { default: hdf5 } = await import('h5wasm');
  const { FS } = await hdf5.ready;
  const file = new hdf5.File(draft, 'w');
  const { frequencyHz, directions, re, im, distanceMm } = directivity;
  const [receivers, points] = [directions.length, frequencyHz.length];
  const sizes = { M: 1, R: receivers, N: points, E: 1, C: 3, I: 1, S: 1 };
  type Size = keyof typeof sizes;

  for (const [name, size] of Object.entries(sizes)) {
    if (name === 'N') continue;
    file.create_dataset({ name, data: new Float32Array(size), shape: [size], dtype: '<f4' });
    const dimension = file.get(name) as InstanceType<typeof hdf5.Dataset>;
    dimension.make_scale(`${bareDimension} ${String(size).padStart(10)}`);
  }
  const write = (
    name: string,
    data: Float64Array,
    over: readonly Size[],
    attributes: Readonly<Record<string, string>> = {},
  ) => {
    file.create_dataset({
      ...{ name, data, dtype: '<f8' },
      shape: over.map((dimension) => sizes[dimension]),
    });
    const dataset = file.get(name) as InstanceType<typeof hdf5.Dataset>;
    if (name === 'N') dataset.make_scale('N');
    else over.forEach((dimension, k) => dataset.attach_scale(k, dimension));
    for (const [key, value] of Object.entries(attributes)) dataset.create_attribute(key, value);
  };
  write('N', frequencyHz, ['N'], { LongName: 'frequency', Units: 'hertz' });

  const now = new Date().toISOString().slice(0, 19).replace('T', ' ');
  const said: Readonly<Record<string, string>> = {
    Conventions: 'SOFA',
    Version: '2.1',
    SOFAConventions: 'FreeFieldDirectivityTF',
    SOFAConventionsVersion: '1.1',
    DataType: 'TF',
    RoomType: 'free field',
    Title: title,
    DateCreated: now,
    DateModified: now,
    APIName: 'h5wasm',
    APIVersion: '0.10',
    ApplicationName: 'Fair Voicing',
    AuthorContact: '',
    Organization: '',
    License: 'No license provided, ask the author for permission',
    Comment:
      'Sound pressure in pascals (rms), referred to 1 m. Predicted: measured, interpolated and modelled directions, see the exported tables.',
    DatabaseName: title,
    SourceType: 'loudspeaker',
    SourceManufacturer: '',
    EmitterDescription: 'whole speaker',
  };
  for (const [key, value] of Object.entries(said)) file.create_attribute(key, value);

  const cartesian = { Type: 'cartesian', Units: 'metre' };
  const origin = new Float64Array(3);
  write('ListenerPosition', origin, ['I', 'C'], cartesian);
  write('SourcePosition', origin, ['I', 'C'], cartesian);
  write('SourceView', Float64Array.of(1, 0, 0), ['I', 'C'], cartesian);
  write('SourceUp', Float64Array.of(0, 0, 1), ['I', 'C'], cartesian);
  write('EmitterPosition', origin, ['E', 'C', 'I'], cartesian);
  const positions = new Float64Array(3 * receivers);
  directions.forEach(({ plane, degrees }, d) => {
    positions.set([...spherical(plane, degrees), distanceMm / 1000], 3 * d);
  });
  write('ReceiverPosition', positions, ['R', 'C', 'I'], {
    Type: 'spherical',
    Units: 'degree, degree, metre',
  });
  const pascals = { Units: 'pascal' };
  write('Data.Real', re.map(toPascals), ['M', 'R', 'N'], pascals);
  write('Data.Imag', im.map(toPascals), ['M', 'R', 'N'], pascals);
  file.flush();
  file.close();
  const bytes = (FS as { readFile: (name: string) => Uint8Array }).readFile(draft).slice();
  (FS as { unlink: (name: string) => void }).unlink(draft);
  return bytes;
}

/** Levels are over 20 µPa. */
const toPascals = (pressure: number) => 20e-6 * pressure;

/** Azimuth anticlockwise as seen from above, 0° to 360°, and elevation (AES69). */
function spherical(plane: 'horizontal' | 'vertical', degrees: number): [number, number] {
  if (plane === 'horizontal') return [(360 - degrees) % 360, 0];
  const isBehind = Math.abs(degrees) > 90;
  return [isBehind ? 180 : 0, isBehind ? Math.sign(degrees) * 180 - degrees : degrees];
}
