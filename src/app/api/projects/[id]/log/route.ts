import { exportVersions, listVersions } from '@/server/log';
import { answer, projectId } from '../../../http';

interface Context {
  readonly params: Promise<{ id: string }>;
}

/** The versions of a project; with `?documents`, each with the document that it ended with, for a project file. */
export const GET = (request: Request, { params }: Context) =>
  answer(async () => {
    const id = projectId((await params).id);
    return new URL(request.url).searchParams.has('documents')
      ? exportVersions(id)
      : listVersions(id);
  });
