import type { DriverSheet } from '@/core/document/briefSchema';
import { applyChange } from './applyChange';
import {
  emptyDesign,
  offPanel,
  type Design,
  type Driver,
  type Measurement,
} from '@/core/document/schema';
import { problem } from '../problem';
import { cutText } from '../text';

/**
 * The library keeps drivers across projects. A driver in it is a design document with nothing but
 * drivers, each one a sample of the same model, and their measurements: so it is checked, brought
 * up to date, exported and imported like any other document.
 */

/** A line in the list of the library. */
export interface LibraryEntry {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  /** ISO 8601. */
  readonly updatedAt: string;
  readonly samples: readonly LibrarySample[];
  /** Why it can't be read, in words; null when it can. */
  readonly trouble: string | null;
}

/** One sample of a library driver, as the list tells it. */
export interface LibrarySample {
  readonly name: string;
  readonly hasResponse: boolean;
  readonly hasImpedance: boolean;
  readonly angleCount: number;
  readonly sheet: DriverSheet;
}

/** A library driver as the server holds it. */
export interface StoredLibraryDriver {
  readonly id: string;
  readonly revision: number;
  readonly document: Design;
}

/** Most samples of one driver that the library keeps. */
export const mostSamples = 24;

/** Ids of all measurements that a driver names. */
const idsOf = ({ responseId, impedanceId, offAxisIds, fitting }: Driver): string[] =>
  [responseId, impedanceId, fitting.secondId, ...offAxisIds].filter((id) => id !== null);

/** Measurements of a document that some of its drivers name. */
export function measurementsOf(
  { measurements }: Pick<Design, 'measurements'>,
  drivers: readonly Driver[],
): Measurement[] {
  const named = new Set(drivers.flatMap(idsOf));
  return measurements.filter(({ id }) => named.has(id));
}

/**
 * A document for the library: the drivers of another document, as samples, with what they name.
 * Where a driver is mounted on a baffle is a matter of the project, and stays there.
 *
 * @param drivers of `design`
 * @throws ProblemError `library_empty`, `library_full`
 */
export function libraryDocument(
  name: string,
  design: Pick<Design, 'measurements'>,
  drivers: readonly Driver[],
): Design {
  if (drivers.length === 0)
    throw problem(
      'library_empty',
      name,
      'There is no driver in it.',
      'The library keeps drivers with their measurements.',
      'Give a file with at least one driver.',
    );
  if (drivers.length > mostSamples)
    throw problem(
      'library_full',
      name,
      `These are ${drivers.length} samples.`,
      `The library keeps up to ${mostSamples} of one driver.`,
      'Keep the mean of some of them, or begin a second driver.',
    );
  return {
    ...emptyDesign(name),
    measurements: measurementsOf(design, drivers),
    drivers: drivers.map((driver) => ({
      ...offPanel(driver),
      position: { xMm: 0, yMm: 0, zMm: 0 },
    })),
  };
}

/**
 * A library document with one more sample. A sample with the id of one that is there takes its
 * place; one with a name that is there gets a number.
 *
 * @throws ProblemError `library_full`
 */
export function withSample(document: Design, design: Design, driver: Driver): Design {
  const others = document.drivers.filter(({ id }) => id !== driver.id);
  const { measurements } = applyChange(document, {
    type: 'addMeasurements',
    measurements: design.measurements,
  });
  const taken = new Set(others.map(({ name }) => name));
  let name = driver.name;
  for (let number = 2; taken.has(name); number++) name = `${cutText(driver.name, 70)} (${number})`;
  return libraryDocument(document.name, { measurements }, [...others, { ...driver, name }]);
}

/**
 * What a file brings into the library. A document without a network is one driver with its samples;
 * the drivers of a project are different ones, and each becomes a driver of its own.
 *
 * @throws ProblemError `library_empty`, `library_full`
 */
export const libraryDocumentsOf = (design: Design): Design[] =>
  design.ways.length === 0
    ? [libraryDocument(design.name, design, design.drivers)]
    : design.drivers.map((driver) => libraryDocument(driver.name, design, [driver]));

/** What the list says of a document. */
export const samplesOf = ({ drivers }: Design): LibrarySample[] =>
  drivers.map(({ name, responseId, impedanceId, offAxisIds, sheet }) => ({
    name,
    hasResponse: responseId !== null,
    hasImpedance: impedanceId !== null,
    angleCount: offAxisIds.length,
    sheet,
  }));
