import { z } from 'zod';
import { problem, ProblemError, type Problem } from '@/core/problem';

const statusOf = (code: string): number => {
  if (code === 'project_missing' || code.endsWith('not_found')) return 404;
  if (code === 'request_too_large') return 413;
  return 422;
};

/** The server's log is where the reason of an unexpected failure belongs. */
function logFailure(error: unknown): void {
  process.stderr.write(
    `${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`,
  );
}

/** Runs a handler and gives its result as JSON; a problem keeps its words, anything else tells none of its inside. */
export async function answer(handler: () => Promise<unknown>): Promise<Response> {
  try {
    const result = await handler();
    return result instanceof Response ? result : Response.json(result ?? { done: true });
  } catch (error) {
    if (error instanceof ProblemError)
      return Response.json({ problem: error.problem }, { status: statusOf(error.problem.code) });
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
 * JSON of a request body, checked against a schema.
 *
 * @param largestBytes longer bodies are refused before they are parsed
 */
export async function readBody<T>(
  request: Request,
  schema: z.ZodType<T>,
  largestBytes: number,
): Promise<T> {
  const tooLarge = () =>
    problem(
      'request_too_large',
      request.url,
      'The request is too large.',
      `Up to ${Math.round(largestBytes / 2 ** 20)} MiB are taken.`,
      'Import fewer points.',
    );
  if (Number(request.headers.get('content-length') ?? 0) > largestBytes) throw tooLarge();
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    size += chunk.length;
    if (size > largestBytes) throw tooLarge();
    chunks.push(chunk);
  }
  let parsed: unknown;
  try {
    parsed = JSON.parse(Buffer.concat(chunks).toString('utf8'));
  } catch {
    throw problem(
      'request_not_json',
      request.url,
      'The request is not JSON.',
      '',
      'Reload the page and try again.',
    );
  }
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

/** Id of a project from its address. */
export const projectId = (text: string): string =>
  idFrom(text, 'project_missing', 'There is no such project.', 'Go back to the list of projects.');

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
  if (z.uuid().safeParse(text).success) return text;
  throw problem(code, text.slice(0, 80), what, 'Its address is wrong.', mend);
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
  );
}

export const documentBytes = 8 * 2 ** 20;
/** A new project may bring its log along. */
export const logBytes = 128 * 2 ** 20;
export const measurementBytes = 32 * 2 ** 20;
