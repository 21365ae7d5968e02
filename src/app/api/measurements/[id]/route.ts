import { problem } from '@/core/problem';
import { findMeasurement, samplesSchema, storeMeasurement } from '@/server/measurements';
import { answer, measurementBytes, readBody } from '@/app/api/http';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

async function measurementId({ params }: Context): Promise<string> {
  const { id } = await params;
  if (/^[0-9a-f]{32}$/.test(id)) return id;
  throw problem(
    'measurement_missing',
    '',
    'There is no such measurement.',
    'Its address is wrong.',
    'Import its file again.',
    'missing',
  );
}

/** Numbers never change under their fingerprint, so a browser may keep them. */
export const GET = (_request: Request, context: Context) =>
  answer(async () =>
    Response.json(await findMeasurement(await measurementId(context)), {
      headers: { 'Cache-Control': 'private, max-age=31536000, immutable' },
    }),
  );

export const PUT = (request: Request, context: Context) =>
  answer(async () =>
    storeMeasurement(
      await measurementId(context),
      await readBody(request, samplesSchema, measurementBytes),
    ),
  );
