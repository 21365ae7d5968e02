/**
 * Prepares the database before the server starts: migrates, removes what was deleted long ago, and
 * loads the demo into a database that has never held a project. Bundled to dist/database.mjs; run
 * by the start and test scripts.
 */
import { database } from './database';
import { createDemoProject } from './demo';
import { migrate } from './migrate';
import { models } from './models';
import { prepareQueues } from './queue';
import { purgeDeleted } from './projects';

await migrate();
await prepareQueues();
await purgeDeleted(new Date());
const withDemo = process.argv.includes('--demo');
if (withDemo && (await models().projects.count()) === 0) await createDemoProject();
await database().close();
