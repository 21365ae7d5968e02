import { Client, types, type ClientConfig } from 'pg';
import { Sequelize } from 'sequelize';

/**
 * Address of the database, e.g. postgres://app:…@127.0.0.1:5433/fair. Set by the start and test
 * scripts.
 */
export function databaseUrl(): string {
  const url = process.env.FAIR_DATABASE_URL;
  if (!url)
    throw new Error(
      'FAIR_DATABASE_URL is not set: the server does not know its database. Start it with npm start.',
    );
  return url;
}

/**
 * A client whose connection may break at any moment. Sequelize listens for that too late: what
 * breaks in the very moment of connecting would be an error that nobody heard, which ends the
 * process.
 */
class ListenedClient extends Client {
  constructor(config?: string | ClientConfig) {
    super(config);
    this.on('error', () => undefined);
  }
}

// Kept across hot reloads in development, where modules are evaluated again.
const shared = globalThis as { fairDatabase?: Sequelize };

/** The one connection pool of this process. */
export function database(): Sequelize {
  shared.fairDatabase ??= new Sequelize(databaseUrl(), {
    dialect: 'postgres',
    dialectModule: { Client: ListenedClient, types },
    logging: false,
    pool: { max: 8, acquire: 5000 },
    // The database may have been restarted under us: a broken connection is tried again once on a
    // new one.
    retry: {
      match: [
        /ECONNREFUSED/,
        /ECONNRESET/,
        /Connection terminated/,
        /terminating connection/,
        /not queryable/,
      ],
      max: 2,
    },
  });
  return shared.fairDatabase;
}

/**
 * Connections that are refused, broken or not to be had: the server looks after its database, and
 * it comes back.
 */
export const isDatabaseAway = (error: unknown): boolean =>
  error instanceof Error &&
  (/^Sequelize(?:Connection|HostNotReachable|HostNotFound|InvalidConnection|AccessDenied)/.test(
    error.name,
  ) ||
    /ECONNREFUSED|ECONNRESET|Connection terminated|terminating connection|the database system is|not queryable/.test(
      error.message,
    ));
