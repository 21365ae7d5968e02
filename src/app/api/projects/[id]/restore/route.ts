import { restoreProject } from '@/server/projects';
import { answer, projectId } from '../../../http';

export const POST = (_request: Request, { params }: { readonly params: Promise<{ id: string }> }) =>
  answer(async () => restoreProject(projectId((await params).id)));
