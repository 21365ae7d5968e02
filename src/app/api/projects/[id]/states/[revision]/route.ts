import { findState } from '@/server/log';
import { answer, countFrom, projectId } from '../../../../http';

interface Context {
  readonly params: Promise<{ id: string; revision: string }>;
}

/** The document as it was saved at a revision. */
export const GET = (_request: Request, { params }: Context) =>
  answer(async () => {
    const { id, revision } = await params;
    return findState(projectId(id), countFrom(revision));
  });
