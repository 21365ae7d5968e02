import { SequelizeStorage, Umzug } from 'umzug';
import { database } from './database';
import * as projectsAndMeasurements from './migrations/001-projects-and-measurements';
import * as log from './migrations/002-log';
import * as library from './migrations/003-library';
import * as searches from './migrations/004-searches';
import * as searchLimits from './migrations/005-search-limits';
import * as savesAndNotes from './migrations/006-saves-and-notes';
import * as checks from './migrations/007-checks';
import * as demo from './migrations/008-demo';

/** In order; never edited once released, only added to. */
export const migrations = [
  projectsAndMeasurements,
  log,
  library,
  searches,
  searchLimits,
  savesAndNotes,
  checks,
  demo,
];

/** Brings the database to the newest schema. Running it twice does nothing the second time. */
export async function migrate(): Promise<void> {
  const query = database().getQueryInterface();
  const umzug = new Umzug({
    migrations: migrations.map(({ name, up, down }) => ({
      name,
      up: () => up(query),
      down: () => down(query),
    })),
    storage: new SequelizeStorage({ sequelize: database(), tableName: 'migrations' }),
    logger: undefined,
  });
  await umzug.up();
}
