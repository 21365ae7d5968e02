import { readSession } from '../../../tests/fixtures';
import { applyChange } from './applyChange';
import {
  libraryDocument,
  libraryDocumentsOf,
  measurementsOf,
  mostSamples,
  samplesOf,
  withSample,
} from './library';
import { readDesign } from '@/core/document/readDesign';
import { designSchema, emptyDesign } from '@/core/document/schema';

const { design } = readSession();
const [woofer, midrange] = design.drivers;

test('a library document holds the driver, what it names, and nothing of the project', () => {
  const document = libraryDocument('Woofer 250', design, [woofer]);
  expect(designSchema.parse(document)).toEqual(document);
  expect(document.measurements.map(({ id }) => id).sort()).toEqual(
    [woofer.responseId, woofer.impedanceId].sort(),
  );
  expect(document.drivers[0].position).toEqual({ xMm: 0, yMm: 0, zMm: 0 });
  expect(document.ways).toEqual([]);
  expect(document.brief).toEqual(emptyDesign('').brief);
  expect(samplesOf(document)).toEqual([
    {
      name: woofer.name,
      hasResponse: true,
      hasImpedance: true,
      angleCount: 0,
      sheet: woofer.sheet,
    },
  ]);
});

test('angles and the second impedance of a fitting go along', () => {
  const [response, , impedance] = [
    midrange.responseId!,
    null,
    design.drivers[2].impedanceId!,
  ] as const;
  const full = {
    ...woofer,
    offAxisIds: [response],
    fitting: { ...woofer.fitting, secondId: impedance },
  };
  expect(measurementsOf(design, [full])).toHaveLength(4);
});

test('a second sample joins the first, and the same one again takes its own place', () => {
  const first = libraryDocument('Midrange 120', design, [midrange]);
  const second = { ...midrange, id: 'midrange-b', name: 'sample B' };
  const both = withSample(first, design, second);
  expect(both.drivers.map(({ name }) => name)).toEqual([midrange.name, 'sample B']);
  expect(both.measurements).toEqual(first.measurements);
  const renamed = withSample(both, design, { ...second, name: 'sample C' });
  expect(renamed.drivers.map(({ name }) => name)).toEqual([midrange.name, 'sample C']);
  const third = withSample(renamed, design, { ...midrange, id: 'midrange-c' });
  expect(third.drivers[2].name).toBe(`${midrange.name} (2)`);
  expect(readDesign(structuredClone(renamed), 'test')).toEqual(renamed);
});

test('an empty one, and one with too many samples, are refused', () => {
  expect(() => libraryDocument('none', design, [])).toThrow('There is no driver in it.');
  const many = Array.from({ length: mostSamples + 1 }, (_, i) => ({ ...woofer, id: `w${i}` }));
  expect(() => libraryDocument('many', design, many)).toThrow(`up to ${mostSamples}`);
});

test('brought into a project, drivers come with their measurements, in one step', () => {
  const document = libraryDocument('Woofer 250', design, [woofer]);
  const project = applyChange(emptyDesign('new'), {
    type: 'bringDrivers',
    drivers: document.drivers,
    measurements: document.measurements,
  });
  expect(designSchema.parse(project)).toEqual(project);
  expect(project.drivers).toEqual(document.drivers);
  // Measurements that are there already are not brought a second time.
  const again = applyChange(project, {
    type: 'bringDrivers',
    drivers: [{ ...woofer, id: 'second' }],
    measurements: document.measurements,
  });
  expect(again.measurements).toEqual(project.measurements);
  expect(again.drivers).toHaveLength(2);
});

test('a project brings each of its drivers, a driver file all samples of one', () => {
  expect(libraryDocumentsOf(design).map(({ name, drivers }) => [name, drivers.length])).toEqual(
    design.drivers.map(({ name }) => [name, 1]),
  );
  const file = { ...design, name: 'Woofer 250', ways: [] };
  expect(libraryDocumentsOf(file).map(({ name, drivers }) => [name, drivers.length])).toEqual([
    ['Woofer 250', 3],
  ]);
});
