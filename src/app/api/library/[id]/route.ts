import { z } from 'zod';
import { readDesign } from '@/core/document/readDesign';
import { deleteLibraryDriver, findLibraryDriver, saveLibraryDriver } from '@/server/library';
import { answer, documentBytes, libraryId, readBody } from '@/app/api/http';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

export const GET = (_request: Request, { params }: Context) =>
  answer(async () => findLibraryDriver(libraryId((await params).id)));

const save = z.strictObject({ baseRevision: z.int().positive(), document: z.unknown() });

export const PUT = (request: Request, { params }: Context) =>
  answer(async () => {
    const id = libraryId((await params).id);
    const { baseRevision, document } = await readBody(request, save, documentBytes);
    return saveLibraryDriver(id, baseRevision, readDesign(document, 'request'));
  });

export const DELETE = (_request: Request, { params }: Context) =>
  answer(async () => deleteLibraryDriver(libraryId((await params).id)));
