import { Client } from 'pg';
import { database } from '@/server/database';
import { migrate } from '@/server/migrate';

/**
 * Opens the database before the tests of a file, and closes it after them.
 *
 * @returns ends the connections of this process's pool, as a database that is killed does, from a
 *   connection beside it; those of other processes stay
 */
export function databaseWithAxe(): () => Promise<unknown> {
  const axe = new Client({ connectionString: process.env.FAIR_DATABASE_URL });
  const own = `cut off ${process.pid}`;
  beforeAll(async () => {
    process.env.FAIR_DATABASE_URL += `?application_name=${encodeURIComponent(own)}`;
    await axe.connect();
    await migrate();
  });
  afterAll(async () => {
    await axe.end();
    await database().close();
  });
  return () =>
    axe.query(
      'SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database() AND application_name = $1',
      [own],
    );
}
