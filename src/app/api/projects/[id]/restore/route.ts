import { restoreProject } from '@/server/projects';
import { answer, projectId } from '@/app/api/http';

export const POST = (_request: Request, { params }: { readonly params: Promise<{ id: string }> }) =>
  answer(async () => restoreProject(projectId((await params).id)));
