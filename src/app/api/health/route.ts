import { database } from '@/server/database';
import { answer } from '@/app/api/http';

/** Answers once the database does. */
export const GET = () =>
  answer(() =>
    database()
      .query('SELECT 1')
      .then(() => ({ ready: true })),
  );

export const dynamic = 'force-dynamic';
