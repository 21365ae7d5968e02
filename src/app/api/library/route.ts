import { z } from 'zod';
import { readDesign } from '@/core/document/readDesign';
import { addLibraryDriver, listLibrary } from '@/server/library';
import { answer, documentBytes, readBody } from '@/app/api/http';

export const dynamic = 'force-dynamic';

export const GET = () => answer(listLibrary);

const addition = z.strictObject({ document: z.unknown() });

export const POST = (request: Request) =>
  answer(async () => {
    const { document } = await readBody(request, addition, documentBytes);
    return addLibraryDriver(readDesign(document, 'request'));
  });
