import { Sequelize } from 'sequelize';

/** Address of the database, e.g. postgres://app:…@127.0.0.1:5433/fair. Set by the start and test scripts. */
export function databaseUrl(): string {
  const url = process.env.FAIR_DATABASE_URL;
  if (!url)
    throw new Error(
      'FAIR_DATABASE_URL is not set: the server does not know its database. Start it with npm start.',
    );
  return url;
}

// Kept across hot reloads in development, where modules are evaluated again.
const shared = globalThis as { fairDatabase?: Sequelize };

/** The one connection pool of this process. */
export function database(): Sequelize {
  shared.fairDatabase ??= new Sequelize(databaseUrl(), {
    dialect: 'postgres',
    logging: false,
    pool: { max: 8, acquire: 5000 },
    // The database may have been restarted under us: a broken connection is tried again once on a new one.
    retry: {
      match: [/ECONNREFUSED/, /ECONNRESET/, /Connection terminated/, /terminating connection/],
      max: 3,
    },
  });
  return shared.fairDatabase;
}
