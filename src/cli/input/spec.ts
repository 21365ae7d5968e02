import type { z } from 'zod';
import { problem } from '@/core/problem';
import { readInput } from './files';

/**
 * What a JSON file of a command tells.
 *
 * @throws ProblemError `not_json`, `spec_invalid` naming the place in the file
 */
export function readSpec<T>(command: string, path: string, schema: z.ZodType<T>): T {
  let parsed: unknown;
  try {
    parsed = JSON.parse(new TextDecoder().decode(readInput(path)));
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    throw problem('not_json', path, 'The spec can’t be parsed.', error.message, 'Give JSON.');
  }
  const result = schema.safeParse(parsed);
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  throw unreadableSpec(command, path, issue.path, issue.message);
}

export const unreadableSpec = (
  command: string,
  path: string,
  place: readonly PropertyKey[],
  what: string,
) =>
  problem(
    'spec_invalid',
    `${path}: ${place.map(String).join('.') || 'spec'}`,
    what,
    '',
    `See: fair ${command} --help`,
  );
