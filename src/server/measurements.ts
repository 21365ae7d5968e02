import { z } from 'zod';
import { numberIds, type Design } from '@/core/document/schema';
import {
  checkedSamples,
  mostRows,
  samplesId,
  type Samples,
  type MeasurementData,
} from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import { models } from './models';

const numbers = z.array(z.number()).max(mostRows);

/** Samples as JSON. */
export const samplesSchema = z.strictObject({
  frequencyHz: numbers,
  magnitude: numbers,
  phaseDeg: numbers.nullable(),
});

export type SamplesJson = z.infer<typeof samplesSchema>;

/** Samples as the core computes with them. */
export const samplesFrom = ({ frequencyHz, magnitude, phaseDeg }: SamplesJson): Samples => ({
  frequencyHz: Float64Array.from(frequencyHz),
  magnitude: Float64Array.from(magnitude),
  phaseDeg: phaseDeg && Float64Array.from(phaseDeg),
});

/**
 * Stores the numbers of a measurement under their fingerprint. Storing them again changes nothing.
 *
 * @throws ProblemError `measurement_unusable`, `fingerprint_differs`
 */
export async function storeMeasurement(id: string, json: SamplesJson): Promise<void> {
  const samples = checkedSamples(json.frequencyHz, json.magnitude, json.phaseDeg);
  if (typeof samples === 'string')
    throw problem(
      'measurement_unusable',
      '',
      `These numbers can’t be stored: ${samples}.`,
      '',
      'Correct the file and import it again.',
    );
  if (samplesId(samples) !== id)
    throw problem(
      'fingerprint_differs',
      '',
      'These are not the numbers that the measurement was read with.',
      'They were changed on the way.',
      'Import the file again.',
    );
  await models().measurements.bulkCreate([{ id, ...json }], { ignoreDuplicates: true });
}

const measurementMissing = () =>
  problem(
    'measurement_missing',
    '',
    'There is no such measurement.',
    '',
    'Import its file again.',
    'missing',
  );

/** @throws ProblemError `measurement_missing` */
export async function findMeasurement(id: string): Promise<SamplesJson> {
  const row = await models().measurements.findByPk(id);
  if (!row) throw measurementMissing();
  return { frequencyHz: row.frequencyHz, magnitude: row.magnitude, phaseDeg: row.phaseDeg };
}

/** Numbers of those that are there, by their ids. */
export async function findMeasurements(
  ids: readonly string[],
): Promise<Readonly<Record<string, SamplesJson>>> {
  const rows = await models().measurements.findAll({ where: { id: [...ids] } });
  return Object.fromEntries(
    rows.map(({ id, frequencyHz, magnitude, phaseDeg }) => [
      id,
      { frequencyHz, magnitude, phaseDeg },
    ]),
  );
}

/** Which of these ids have no numbers here yet. */
export async function withoutNumbers(ids: readonly string[]): Promise<Set<string>> {
  const rows = await models().measurements.findAll({
    where: { id: [...ids] },
    attributes: ['id'],
  });
  const absent = new Set(ids);
  for (const { id } of rows) absent.delete(id);
  return absent;
}

/**
 * Checks that all numbers which documents name are stored. They go first, the document second: it
 * never points at nothing.
 *
 * @throws ProblemError `measurement_missing`
 */
export async function requireMeasurements(documents: readonly Design[]): Promise<void> {
  const names = new Map(
    documents.flatMap(({ measurements }) =>
      measurements.flatMap((one) => numberIds(one).map((id) => [id, one.name] as const)),
    ),
  );
  const [absent] = await withoutNumbers([...names.keys()]);
  if (absent !== undefined)
    throw problem(
      'measurement_missing',
      names.get(absent)!,
      'The numbers of this measurement were not stored yet.',
      'A design is stored only after its measurements.',
      'Send the measurement first.',
    );
}

/**
 * The numbers of a design's measurements.
 *
 * @throws ProblemError `measurement_missing`
 */
export async function measurementsOf({ measurements }: Design): Promise<MeasurementData> {
  const found = await findMeasurements(measurements.map(({ id }) => id));
  return new Map(
    measurements.map(({ id }) => {
      if (!(id in found)) throw measurementMissing();
      return [id, samplesFrom(found[id])];
    }),
  );
}
