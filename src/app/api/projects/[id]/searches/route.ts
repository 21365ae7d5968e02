import { z } from 'zod';
import { searchLimitsSchema } from '@/core/fitting/limits';
import { readDesign } from '@/core/design/readDesign';
import { findProject } from '@/server/projects';
import { queue } from '@/server/queue';
import { beginSearch, listSearches } from '@/server/searches';
import { answer, documentBytes, projectId, readBody } from '../../../http';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

export const GET = (_request: Request, { params }: Context) =>
  answer(async () => listSearches(projectId((await params).id)));

const wish = z.strictObject({ document: z.unknown(), limits: searchLimitsSchema });

/** Begins a search for networks that goes on when the page is closed. */
export const POST = (request: Request, { params }: Context) =>
  answer(async () => {
    const { id } = await findProject(projectId((await params).id));
    const { document, limits } = await readBody(request, wish, documentBytes);
    return beginSearch(await queue(), id, readDesign(document, 'request'), limits);
  });
