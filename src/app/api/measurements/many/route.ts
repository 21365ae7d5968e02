import { mostAtOnce } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import { findMeasurements } from '@/server/measurements';
import { answer } from '@/app/api/http';

export const dynamic = 'force-dynamic';

/** Numbers of several measurements by their ids; those that are not there are left out. */
export const GET = (request: Request) =>
  answer(async () => {
    const ids = (new URL(request.url).searchParams.get('ids') ?? '').split(',');
    if (ids.length > mostAtOnce || !ids.every((id) => /^[0-9a-f]{32}$/.test(id)))
      throw problem(
        'measurement_ids',
        '',
        `These are not the ids of up to ${mostAtOnce} measurements.`,
        'The address is wrong.',
        'Reload the page.',
      );
    const found = await findMeasurements(ids);
    return Response.json(found, {
      // Numbers never change under their fingerprints; what is missing may come.
      headers:
        Object.keys(found).length === ids.length
          ? { 'Cache-Control': 'private, max-age=31536000, immutable' }
          : {},
    });
  });
