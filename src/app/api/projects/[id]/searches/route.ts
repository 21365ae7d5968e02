import { z } from 'zod';
import { searchLimitsSchema } from '@/core/fitting/limits';
import { readDesign } from '@/core/design/readDesign';
import { requireProject } from '@/server/missing';
import { queue } from '@/server/queue';
import { beginSearch, listSearches } from '@/server/searches';
import { answer, documentBytes, projectId, readBody } from '@/app/api/http';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

export const GET = (_request: Request, { params }: Context) =>
  answer(async () => {
    const id = projectId((await params).id);
    await requireProject(id);
    return listSearches(id);
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
