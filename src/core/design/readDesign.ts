import { problem } from '@/core/problem';
import { emptySheet } from './briefSchema';
import { designSchema, emptyDesign, emptyFitting, plainStatement, type Design } from './schema';

const newestVersion = 3;

/**
 * Checks a document of unknown origin and gives it as the newest version of the schema.
 *
 * @param value parsed JSON
 * @param where file or request it came from, for messages
 * @throws ProblemError `not_a_design`, `design_too_new` or `design_invalid` naming the place in the document
 */
export function readDesign(value: unknown, where: string): Design {
  const { format, version } = (typeof value === 'object' && value !== null ? value : {}) as Record<
    string,
    unknown
  >;
  if (format !== 'fair-voicing')
    throw problem(
      'not_a_design',
      where,
      'This is not a Fair Voicing design.',
      'Its format is not named “fair-voicing”.',
      'Give a project file or a design.json.',
    );
  if (typeof version === 'number' && version > newestVersion)
    throw problem(
      'design_too_new',
      where,
      `This design has schema version ${version}.`,
      `This program reads versions up to ${newestVersion}.`,
      'Open it with a newer Fair Voicing.',
    );
  const result = designSchema.safeParse(upToDate(value as object, version));
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  throw problem(
    'design_invalid',
    `${where}: ${issue.path.join('.') || 'document'}`,
    issue.message,
    '',
    'Correct this place, or export the project again.',
  );
}

/** The document as the newest version has it. */
function upToDate(value: object, version: unknown): unknown {
  if (version === 1) return fromVersion2(fromVersion1(value));
  return version === 2 ? fromVersion2(value) : value;
}

const withEach = (items: unknown, more: object): unknown =>
  Array.isArray(items) ? items.map((item: object) => ({ ...item, ...more })) : items;

interface Unchecked {
  readonly drivers?: unknown;
  readonly measurements?: unknown;
}

/** Version 1 knew neither brief, target nor promises, and drivers had no data sheet. */
function fromVersion1(value: Unchecked): Unchecked & object {
  const { brief, target, promises, variant } = emptyDesign('');
  const drivers = withEach(value.drivers, { sheet: emptySheet });
  const more = { brief, target, promises, variant, drivers };
  return { ...value, ...more };
}

/** Version 2 used responses as they were measured, on one axis; drivers were not fitted. */
function fromVersion2(value: Unchecked): unknown {
  return {
    ...value,
    version: newestVersion,
    measurements: withEach(value.measurements, plainStatement),
    drivers: withEach(value.drivers, { offAxisIds: [], fitting: emptyFitting }),
  };
}
