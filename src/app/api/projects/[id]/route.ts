import { z } from 'zod';
import { saveNoteSchema } from '@/core/log/log';
import { ticketSchema } from '@/core/log/project';
import { readDesign } from '@/core/document/readDesign';
import { deleteProject, findProject, saveProject } from '@/server/projects';
import { answer, documentBytes, projectId, readBody } from '@/app/api/http';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

export const GET = (_request: Request, { params }: Context) =>
  answer(async () => findProject(projectId((await params).id)));

const save = z.strictObject({
  baseRevision: z.int().positive(),
  ticket: ticketSchema,
  document: z.unknown(),
  note: saveNoteSchema,
});

/** Saves; 409 with the newest state when that is not the one the save was made from. */
export const PUT = (request: Request, { params }: Context) =>
  answer(async () => {
    const id = projectId((await params).id);
    const { baseRevision, ticket, document, note } = await readBody(request, save, documentBytes);
    const result = await saveProject(
      id,
      baseRevision,
      readDesign(document, 'document'),
      note,
      ticket,
    );
    return 'conflict' in result
      ? Response.json(result, { status: 409 })
      : { revision: result.revision };
  });

export const DELETE = (_request: Request, { params }: Context) =>
  answer(async () => deleteProject(projectId((await params).id)));
