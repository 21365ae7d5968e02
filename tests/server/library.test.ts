/** The library of drivers against a real PostgreSQL. */
import { samplesId } from '@/core/measurement/samples';
import { libraryDocument, withSample } from '@/core/editing/library';
import { database } from '@/server/database';
import { createDemoProject } from '@/server/demo';
import {
  addLibraryDriver,
  deleteLibraryDriver,
  findLibraryDriver,
  listLibrary,
  restoreLibraryDriver,
  saveLibraryDriver,
} from '@/server/library';
import { findMeasurement, storeMeasurement } from '@/server/measurements';
import { migrate } from '@/server/migrate';
import { models } from '@/server/models';
import { purgeDeleted } from '@/server/projects';
import { measurementStatement, readSession } from '../fixtures';

beforeAll(async () => {
  await migrate();
  await createDemoProject();
});
afterAll(() => database().close());

const { design } = readSession();
const [woofer, , tweeter] = design.drivers;

test('a driver is kept with its samples, and comes back as it was', async () => {
  const document = libraryDocument('Library woofer', design, [woofer]);
  const { id, revision } = await addLibraryDriver(document);
  expect((await findLibraryDriver(id)).document).toEqual(document);
  const both = withSample(document, design, { ...woofer, id: 'second', name: 'sample 2' });
  const saved = await saveLibraryDriver(id, revision, both);
  expect(saved).toMatchObject({ revision: revision + 1, document: both });
  expect((await listLibrary()).find((entry) => entry.id === id)).toMatchObject({
    name: 'Library woofer',
    samples: [
      { name: woofer.name, hasResponse: true },
      { name: 'sample 2', hasImpedance: true },
    ],
  });
});

test('whatever else is sent with it is left out', async () => {
  const { id } = await addLibraryDriver({ ...design, name: 'whole project' });
  const { document } = await findLibraryDriver(id);
  expect(document.ways).toEqual([]);
  expect(document.drivers).toHaveLength(3);
});

test('of two changes at once the second is told, and nothing of the first is lost', async () => {
  const document = libraryDocument('contested', design, [tweeter]);
  const { id } = await addLibraryDriver(document);
  await saveLibraryDriver(id, 1, { ...document, name: 'first' });
  await expect(saveLibraryDriver(id, 1, { ...document, name: 'second' })).rejects.toThrow(
    'was changed meanwhile',
  );
  expect((await findLibraryDriver(id)).document.name).toBe('first');
});

test('a driver that can’t be read is named, and hides none of the others', async () => {
  const document = libraryDocument('readable', design, [tweeter]);
  const { id } = await addLibraryDriver(document);
  const broken = await addLibraryDriver({ ...document, name: 'broken' });
  await models().libraryDrivers.update(
    { document: { ...document, version: 99 } as never },
    { where: { id: broken.id } },
  );
  const list = await listLibrary();
  expect(list.find((entry) => entry.id === id)).toMatchObject({ trouble: null });
  const found = list.find((entry) => entry.id === broken.id)!;
  expect(found.samples).toEqual([]);
  expect(found.trouble).toContain('version 99');
  await deleteLibraryDriver(broken.id);
});

test('numbers that are not stored, and empty documents, are refused', async () => {
  const lost = measurementStatement('b'.repeat(32), 'response');
  const driver = { ...woofer, responseId: lost.id, impedanceId: null };
  await expect(
    addLibraryDriver({ ...design, measurements: [lost], drivers: [driver], ways: [] }),
  ).rejects.toThrow('were not stored yet');
  await expect(addLibraryDriver({ ...design, drivers: [], ways: [] })).rejects.toThrow(
    'There is no driver in it',
  );
});

test('a deletion can be taken back for a month; its measurements stay as long as the driver', async () => {
  // Numbers that no project names, only the library.
  const numbers = { frequencyHz: [20, 200, 2000], magnitude: [6, 60, 6.5], phaseDeg: null };
  const id = samplesId({
    frequencyHz: Float64Array.from(numbers.frequencyHz),
    magnitude: Float64Array.from(numbers.magnitude),
    phaseDeg: null,
  });
  await storeMeasurement(id, numbers);
  const kept = await addLibraryDriver({
    ...libraryDocument('old', design, [{ ...tweeter, responseId: null, impedanceId: null }]),
    measurements: [measurementStatement(id, 'impedance')],
    drivers: [{ ...tweeter, responseId: null, impedanceId: id }],
  });
  await deleteLibraryDriver(kept.id);
  await expect(findLibraryDriver(kept.id)).rejects.toThrow('no such driver in the library');
  await expect(deleteLibraryDriver(kept.id)).rejects.toThrow('no such driver in the library');
  await restoreLibraryDriver(kept.id);
  expect((await findLibraryDriver(kept.id)).document).toEqual(kept.document);
  const later = new Date(Date.now() + 31 * 24 * 3600 * 1000);
  await purgeDeleted(later);
  expect(await findMeasurement(id)).toEqual(numbers);
  await deleteLibraryDriver(kept.id);
  await purgeDeleted(later);
  await expect(restoreLibraryDriver(kept.id)).rejects.toThrow('no such driver in the library');
});
