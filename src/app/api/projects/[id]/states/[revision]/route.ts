import { findState } from '@/server/log';
import { requireProject } from '@/server/missing';
import { answer, countFrom, projectId } from '@/app/api/http';

interface Context {
  readonly params: Promise<{ id: string; revision: string }>;
}

/** The document as it was saved at a revision. */
export const GET = (_request: Request, { params }: Context) =>
  answer(async () => {
    const { id, revision } = await params;
    const known = projectId(id);
    await requireProject(known);
    return findState(known, countFrom(revision));
  });
