import { isDatabaseAway } from '@/server/database';
import { z } from 'zod';
import { problem, ProblemError, type Problem, type ProblemNature } from '@/core/problem';
import { uncleanPlace } from '@/core/text';
import { missing } from '@/server/missing';

/** What was sent is wrong, unless the problem says otherwise. */
const wrongInput = 422;
const statusOf: Readonly<Record<ProblemNature, number>> = {
  missing: 404,
  'too-large': 413,
  busy: 429,
};

/** The server's log is where the reason of an unexpected failure belongs. */
function logFailure(error: unknown): void {
  process.stderr.write(
    `${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`,
  );
}

const databaseAway: Problem = {
  code: 'database_away',
  where: '',
  what: 'The database does not answer.',
  why: 'It is being started again.',
  mend: 'Your change is kept in the browser and sent again.',
};

/**
 * Runs a handler and gives its result as JSON; a problem keeps its words, anything else tells none
 * of its inside.
 */
export async function answer(handler: () => Promise<unknown>): Promise<Response> {
  try {
    const result = await handler();
    return result instanceof Response ? result : Response.json(result ?? { done: true });
  } catch (error) {
    if (error instanceof ProblemError) {
      const { nature } = error.problem;
      const status = nature === undefined ? wrongInput : statusOf[nature];
      return Response.json({ problem: error.problem }, { status });
    }
    if (isDatabaseAway(error)) return Response.json({ problem: databaseAway }, { status: 503 });
    logFailure(error);
    const told: Problem = {
      code: 'server_failed',
      where: '',
      what: 'The server could not do this.',
      why: 'Its log has the reason.',
      mend: 'Your change is kept in the browser and sent again.',
    };
    return Response.json({ problem: told }, { status: 500 });
  }
}

/**
 * JSON of a request body, checked against a schema. Texts must be such that the database takes
 * them.
 *
 * @param largestBytes longer bodies are refused before they are parsed
 * @throws ProblemError `request_not_json`, `request_too_large`, `request_unclean`,
 *   `request_invalid`
 */
export async function readBody<T>(
  request: Request,
  schema: z.ZodType<T>,
  largestBytes: number,
): Promise<T> {
  const notJson = (what: string) =>
    problem('request_not_json', '', what, '', 'Reload the page and try again.');
  // A form or plain text is what a foreign page could send without being asked.
  if (!/^application\/json\b/i.test(request.headers.get('content-type') ?? ''))
    throw notJson('The request is not said to be JSON.');
  let parsed: unknown;
  const bytes = await bytesOf(request, largestBytes);
  try {
    parsed = JSON.parse(bytes.toString('utf8'));
  } catch {
    throw notJson('The request is not JSON.');
  }
  const unclean = uncleanPlace(parsed);
  if (unclean !== null)
    throw problem(
      'request_unclean',
      unclean,
      'A text holds a control character or half of a character.',
      'The database does not take such text.',
      'Write this text anew.',
    );
  const result = schema.safeParse(parsed);
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  throw problem(
    'request_invalid',
    issue.path.join('.'),
    issue.message,
    '',
    'Reload the page and try again.',
  );
}

async function bytesOf(request: Request, largestBytes: number): Promise<Buffer> {
  const tooLarge = () =>
    problem(
      'request_too_large',
      '',
      'The request is too large.',
      `Up to ${Math.round(largestBytes / 2 ** 20)} MiB are taken.`,
      'Import fewer points, or remove what is not used.',
      'too-large',
    );
  if (Number(request.headers.get('content-length') ?? 0) > largestBytes) throw tooLarge();
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    size += chunk.length;
    if (size > largestBytes) throw tooLarge();
    chunks.push(chunk);
  }
  return Buffer.concat(chunks);
}

const isUuid = (text: string) => z.uuid().safeParse(text).success;

/** Id of a project from its address. */
export function projectId(text: string): string {
  if (isUuid(text)) return text;
  throw missing();
}

/** Id of a driver of the library from its address. */
export const libraryId = (text: string): string =>
  idFrom(
    text,
    'library_driver_not_found',
    'There is no such driver in the library.',
    'Open the library again.',
  );

/** Id of a search from its address. */
export const searchId = (text: string): string =>
  idFrom(text, 'search_not_found', 'There is no such search.', 'Open the search sheet again.');

function idFrom(text: string, code: string, what: string, mend: string): string {
  if (isUuid(text)) return text;
  throw problem(code, '', what, 'Its address is wrong.', mend, 'missing');
}

/** A whole number above zero from an address: a revision or the number of a version. */
export function countFrom(text: string): number {
  const result = z.coerce.number().int().positive().max(1e9).safeParse(text);
  if (result.success) return result.data;
  throw problem(
    'page_not_found',
    text.slice(0, 40),
    'There is no such place.',
    '',
    'Go back to the log.',
    'missing',
  );
}

/** Largest bodies. `next.config.ts` lets the largest of them pass. */
export const documentBytes = 8 * 2 ** 20;
/** A piece of a log, see `piecesOf`. */
export const logPieceBytes = 16 * 2 ** 20;
export const measurementBytes = 32 * 2 ** 20;
