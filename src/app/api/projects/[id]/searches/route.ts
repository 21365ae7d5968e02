import { z } from 'zod';
import { searchLimitsSchema } from '@/core/fitting/limits';
import { readDesign } from '@/core/document/readDesign';
import { requireProject } from '@/server/missing';
import { queue } from '@/server/queue';
import { beginSearch, listSearches } from '@/server/searches';
import { answer, documentBytes, projectId, readBody } from '@/app/api/http';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

/** `id:version,…` as {@link ServerSearch} has them: networks that the page has already. */
const known = z
  .string()
  .max(2000)
  .regex(/^(?:[0-9a-f-]{36}:-?\d+-[a-z]+,?)*$/)
  .transform((text) => new Map(text.split(',').map((pair) => pair.split(':') as [string, string])))
  .catch(new Map());

/** The searches of a project; with `?known=…`, networks that the page has are left out. */
export const GET = (request: Request, { params }: Context) =>
  answer(async () => {
    const id = projectId((await params).id);
    await requireProject(id);
    const { searchParams } = new URL(request.url);
    return listSearches(id, known.parse(searchParams.get('known') ?? ''));
  });

const wish = z.strictObject({ document: z.unknown(), limits: searchLimitsSchema });

/** Begins a search for networks that goes on when the page is closed. */
export const POST = (request: Request, { params }: Context) =>
  answer(async () => {
    const id = projectId((await params).id);
    await requireProject(id);
    const { document, limits } = await readBody(request, wish, documentBytes);
    return beginSearch(await queue(), id, readDesign(document, 'request'), limits);
  });
