import { z } from 'zod';
import { annotationSchema, figuresSchema } from '@/core/log/log';
import { ticketSchema } from '@/core/log/project';
import { annotateVersion, listSteps, setFigures } from '@/server/log';
import { requireProject } from '@/server/missing';
import { answer, countFrom, documentBytes, projectId, readBody } from '@/app/api/http';

interface Context {
  readonly params: Promise<{ id: string; number: string }>;
}

async function version({ params }: Context): Promise<[id: string, number: number]> {
  const { id, number } = await params;
  const known = projectId(id);
  await requireProject(known);
  return [known, countFrom(number)];
}

/** The saved states of a version. */
export const GET = (_request: Request, context: Context) =>
  answer(async () => listSteps(...(await version(context))));

const change = z.union([
  z.strictObject({
    baseRevision: z.int().min(0),
    ticket: ticketSchema,
    annotation: annotationSchema,
  }),
  z.strictObject({ figures: figuresSchema }),
]);

/**
 * Names a version, or writes its note and impressions: 409 with the newest state when that is not
 * the one which the change was made from. Or gives it the figures that it lacks.
 */
export const PATCH = (request: Request, context: Context) =>
  answer(async () => {
    const [id, number] = await version(context);
    const body = await readBody(request, change, documentBytes);
    if ('figures' in body) return setFigures(id, { number }, body.figures);
    const { annotation, baseRevision, ticket } = body;
    const result = await annotateVersion(id, number, annotation, baseRevision, ticket);
    return 'conflict' in result ? Response.json(result, { status: 409 }) : result;
  });
