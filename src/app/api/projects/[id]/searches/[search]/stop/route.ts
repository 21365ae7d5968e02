import { stopSearch } from '@/server/searches';
import { answer, projectId, searchId } from '@/app/api/http';

interface Context {
  readonly params: Promise<{ id: string; search: string }>;
}

export const dynamic = 'force-dynamic';

/** Stops a search and keeps the best of what was tried. */
export const POST = (_request: Request, { params }: Context) =>
  answer(async () => {
    const { id, search } = await params;
    return stopSearch(projectId(id), searchId(search));
  });
