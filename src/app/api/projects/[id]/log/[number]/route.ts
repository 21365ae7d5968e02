import { annotationSchema } from '@/core/design/log';
import { annotateVersion, listSteps } from '@/server/log';
import { answer, countFrom, documentBytes, projectId, readBody } from '../../../../http';

interface Context {
  readonly params: Promise<{ id: string; number: string }>;
}

/** The saved states of a version. */
export const GET = (_request: Request, { params }: Context) =>
  answer(async () => {
    const { id, number } = await params;
    return listSteps(projectId(id), countFrom(number));
  });

/** Names a version, or writes its note and impressions. */
export const PATCH = (request: Request, { params }: Context) =>
  answer(async () => {
    const { id, number } = await params;
    const annotation = await readBody(request, annotationSchema, documentBytes);
    return annotateVersion(projectId(id), countFrom(number), annotation);
  });
