/** The demo and the numbers of many measurements, against a real PostgreSQL. */
import { samplesId, type Samples } from '@/core/measurement/samples';
import { emptyDesign, type Design } from '@/core/document/schema';
import { database } from '@/server/database';
import { createDemoProject, openDemoProject } from '@/server/demo';
import {
  findMeasurements,
  measurementsOf,
  requireMeasurements,
  samplesFrom,
  storeMeasurement,
  withoutNumbers,
} from '@/server/measurements';
import { migrate } from '@/server/migrate';
import { models } from '@/server/models';
import { deleteProject, findDemo, listProjects } from '@/server/projects';
import { measurementStatement, readDemo } from '../fixtures';

beforeAll(() => migrate());
afterAll(() => database().close());

const invented = (level: number): Samples => ({
  frequencyHz: Float64Array.of(100, 1000, 10_000),
  magnitude: Float64Array.of(level, level + 0.1, -0),
  phaseDeg: Float64Array.of(-10, 0, 170.5),
});
const asJson = ({ frequencyHz, magnitude, phaseDeg }: Samples) => ({
  frequencyHz: [...frequencyHz],
  magnitude: [...magnitude],
  phaseDeg: phaseDeg && [...phaseDeg],
});
async function stored(level: number): Promise<string> {
  const samples = invented(level);
  const id = samplesId(samples);
  await storeMeasurement(id, asJson(samples));
  return id;
}
const holding = (...ids: readonly string[]): Design => ({
  ...emptyDesign('Holds'),
  measurements: ids.map((id) => ({ ...measurementStatement(id, 'response'), id })),
});

test('which numbers are not there yet is told, each once, in the order of the question', async () => {
  const here = await stored(71);
  const absent = ['e'.repeat(32), 'd'.repeat(32)];
  expect([...(await withoutNumbers([absent[0], here, absent[1], absent[0]]))]).toEqual(absent);
  expect([...(await withoutNumbers([here]))]).toEqual([]);
  expect([...(await withoutNumbers([]))]).toEqual([]);
});

test('numbers of many come in one answer, without those that are not there', async () => {
  const ids = [await stored(72), await stored(73)];
  const found = await findMeasurements([...ids, 'c'.repeat(32)]);
  expect(Object.keys(found).toSorted()).toEqual(ids.toSorted());
  expect(found[ids[0]].magnitude[0]).toBe(72);
});

test('a design’s numbers are as they were stored, by its measurements', async () => {
  const ids = [await stored(74), await stored(75)];
  const numbers = await measurementsOf(holding(...ids));
  expect([...numbers.keys()]).toEqual(ids);
  for (const [k, id] of ids.entries()) {
    const { frequencyHz, magnitude, phaseDeg } = numbers.get(id)!;
    expect(frequencyHz).toEqual(invented(74 + k).frequencyHz);
    expect(magnitude[1]).toBe(74 + k + 0.1);
    expect(phaseDeg![2]).toBe(170.5);
  }
  expect((await measurementsOf(holding())).size).toBe(0);
});

test('one that is missing is said, with its name where a document is stored', async () => {
  const here = await stored(76);
  const lacking = holding(here, 'b'.repeat(32));
  await expect(measurementsOf(lacking)).rejects.toThrow('no such measurement');
  await expect(requireMeasurements([lacking])).rejects.toMatchObject({
    problem: { code: 'measurement_missing', where: lacking.measurements[1].name },
  });
  await expect(requireMeasurements([holding(here), holding()])).resolves.toBeUndefined();
});

test('two fresh demos have two names and share their numbers; the last changed is opened again', async () => {
  const first = await createDemoProject();
  const count = () => models().measurements.count();
  const before = await count();
  const second = await createDemoProject();
  expect(await count()).toBe(before);
  expect(second.document.name).not.toBe(first.document.name);
  expect(second.document.name).toMatch(/^The Reading Room \d+$/);
  expect({ ...second.document, name: '' }).toEqual({ ...first.document, name: '' });
  expect((await openDemoProject()).id).toBe((await findDemo())!.id);
});

test('a fresh demo has figures in the list before any browser saw it', async () => {
  const { id } = await createDemoProject();
  const row = (await listProjects()).find((one) => one.id === id)!;
  expect(row).toMatchObject({ isDemo: true, wayCount: 3, partCount: 11 });
  expect(row.figures!.thumbnail.some((level) => level !== null)).toBe(true);
});

test('numbers that were lost in between are stored again with the next demo', async () => {
  const { document } = await createDemoProject();
  const [lost] = document.measurements;
  const kept = (await findMeasurements([lost.id]))[lost.id];
  await models().measurements.destroy({ where: { id: lost.id } });
  const { id } = await createDemoProject();
  const again = (await findMeasurements([lost.id]))[lost.id];
  expect(again).toEqual(kept);
  const { data } = readDemo();
  expect(samplesFrom(again).magnitude).toEqual(data.get(lost.id)!.magnitude);
  await deleteProject(id);
});
