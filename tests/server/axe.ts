import { Client } from 'pg';

/**
 * Ends the connections of this process's pool, as a database that is killed does, from a connection
 * beside it; those of other processes stay. To be opened before the pool is used.
 */
export function createAxe() {
  const client = new Client({ connectionString: process.env.FAIR_DATABASE_URL });
  const own = `cut off ${process.pid}`;
  return {
    async open() {
      process.env.FAIR_DATABASE_URL += `?application_name=${encodeURIComponent(own)}`;
      await client.connect();
    },
    cut: () =>
      client.query(
        'SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database() AND application_name = $1',
        [own],
      ),
    close: () => client.end(),
  };
}
