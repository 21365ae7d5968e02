import { answer, projectId, searchId } from '@/app/api/http';
import { queue } from '@/server/queue';
import { continueSearch } from '@/server/searches';

interface Context {
  readonly params: Promise<{ id: string; search: string }>;
}

/** Goes on with a search that failed, without the networks that could not be tried. */
export const POST = (_request: Request, { params }: Context) =>
  answer(async () => {
    const { id, search } = await params;
    return continueSearch(await queue(), projectId(id), searchId(search));
  });
