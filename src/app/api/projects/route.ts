import { z } from 'zod';
import { longestExportedLog, versionHeadSchema } from '@/core/log/exportedLog';
import { readDesign } from '@/core/document/readDesign';
import { createDemoProject, openDemoProject } from '@/server/demo';
import { createProject, duplicateProject, listProjects } from '@/server/projects';
import { answer, documentBytes, readBody } from '@/app/api/http';

export const dynamic = 'force-dynamic';

const most = z.coerce.number().int().positive().max(1000).nullable().catch(null);

/** The list of projects; with `?most=…` only so many, the last changed first. */
export const GET = (request: Request) =>
  answer(() => listProjects(most.parse(new URL(request.url).searchParams.get('most'))));

/**
 * Makes a project: from a document, as a copy of another, or the demo, which is opened if it is
 * there already.
 */
const creation = z.union([
  z.strictObject({
    document: z.unknown(),
    /** Versions that a project file brought along; they are sent after it. */
    earlier: z.int().min(0).max(longestExportedLog).default(0),
    head: versionHeadSchema.nullable().default(null),
  }),
  z.strictObject({ duplicateOf: z.uuid() }),
  z.strictObject({ demo: z.enum(['open', 'fresh']) }),
]);

export const POST = (request: Request) =>
  answer(async () => {
    const body = await readBody(request, creation, documentBytes);
    if ('demo' in body) return body.demo === 'open' ? openDemoProject() : createDemoProject();
    if ('duplicateOf' in body) return duplicateProject(body.duplicateOf);
    return createProject(readDesign(body.document, 'document'), body.earlier, body.head);
  });
