import { z } from 'zod';
import { exportedVersionSchema, longestExportedLog, type ExportedVersion } from '@/core/design/log';
import { readDesign } from '@/core/design/readDesign';
import { createDemoProject } from '@/server/demo';
import { createProject, duplicateProject, listProjects } from '@/server/projects';
import { answer, logBytes, readBody } from '../http';

export const dynamic = 'force-dynamic';

export const GET = () => answer(listProjects);

/** Makes a project: from a document, as a copy of another, or the demo. */
const creation = z.union([
  z.strictObject({
    document: z.unknown(),
    log: z.array(exportedVersionSchema).max(longestExportedLog).optional(),
  }),
  z.strictObject({ duplicateOf: z.uuid() }),
  z.strictObject({ demo: z.literal(true) }),
]);

export const POST = (request: Request) =>
  answer(async () => {
    const body = await readBody(request, creation, logBytes);
    if ('demo' in body) return createDemoProject();
    if ('duplicateOf' in body) return duplicateProject(body.duplicateOf);
    const log = (body.log ?? []).map((version): ExportedVersion => ({
      ...version,
      document: readDesign(version.document, `version ${version.number}`),
    }));
    return createProject(readDesign(body.document, 'request'), log);
  });
