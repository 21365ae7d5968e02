import { z } from 'zod';
import { pinState } from '@/server/projects';
import { answer, projectId, readBody } from '@/app/api/http';

const pin = z.strictObject({ revision: z.int().positive().nullable() });

/** Pins a saved state to compare with, or takes the pin away. */
export const PUT = (request: Request, { params }: { readonly params: Promise<{ id: string }> }) =>
  answer(async () => {
    const id = projectId((await params).id);
    const { revision } = await readBody(request, pin, 1024);
    await pinState(id, revision);
  });
