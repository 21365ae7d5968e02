import { z } from 'zod';
import { exportedVersionSchema } from '@/core/log/exportedLog';
import { figuresSchema } from '@/core/log/log';
import { exportVersions, listVersions, setFigures } from '@/server/log';
import { requireProject } from '@/server/missing';
import { addVersions } from '@/server/projects';
import { answer, documentBytes, logPieceBytes, projectId, readBody } from '@/app/api/http';

interface Context {
  readonly params: Promise<{ id: string }>;
}

const page = z.coerce.number().int().min(0).max(1e9).catch(0);

/**
 * The versions of a project; with `?documents&after=N`, a page of those after version N with what
 * changed in each, for a project file.
 */
export const GET = (request: Request, { params }: Context) =>
  answer(async () => {
    const id = projectId((await params).id);
    await requireProject(id);
    const { searchParams } = new URL(request.url);
    return searchParams.has('documents')
      ? exportVersions(id, page.parse(searchParams.get('after') ?? 0))
      : listVersions(id);
  });

const late = z.strictObject({ revision: z.int().positive(), figures: figuresSchema });

/** The figures of a state that was saved before they were worked out. */
export const PATCH = (request: Request, { params }: Context) =>
  answer(async () => {
    const id = projectId((await params).id);
    await requireProject(id);
    const { revision, figures } = await readBody(request, late, documentBytes);
    await setFigures(id, { lastRevision: revision }, figures);
  });

const piece = z.strictObject({
  from: z.int().positive(),
  versions: z.array(exportedVersionSchema).min(1),
});

/** Puts a piece of a project file's log before the state that the project began with. */
export const POST = (request: Request, { params }: Context) =>
  answer(async () => {
    const id = projectId((await params).id);
    const { from, versions } = await readBody(request, piece, logPieceBytes);
    await addVersions(id, from, versions);
  });
