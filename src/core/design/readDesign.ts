import { problem } from '@/core/problem';
import { emptySheet } from './briefSchema';
import { designSchema, emptyDesign, type Design } from './schema';

const newestVersion = 2;

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
  const result = designSchema.safeParse(version === 1 ? fromVersion1(value as object) : value);
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

/** Version 1 knew neither brief, target nor promises, and drivers had no data sheet. */
function fromVersion1(value: { readonly drivers?: unknown }): unknown {
  const { brief, target, promises, variant } = emptyDesign('');
  const drivers = Array.isArray(value.drivers)
    ? value.drivers.map((driver: object) => ({ ...driver, sheet: emptySheet }))
    : value.drivers;
  return { ...value, version: newestVersion, brief, target, promises, variant, drivers };
}
