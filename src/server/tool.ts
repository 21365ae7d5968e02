/**
 * Prepares the database before the server starts: migrates, removes what was deleted long ago, and
 * loads the demo into a database that has never held a project. Bundled to dist/database.mjs; run
 * by the start and test scripts.
 */
import { ProblemError, sentence } from '@/core/problem';
import { database } from './database';
import { createDemoProject } from './demo';
import { migrate } from './migrate';
import { models } from './models';
import { prepareQueues } from './queue';
import { purgeDeleted } from './projects';

async function prepare(): Promise<void> {
  await migrate();
  await prepareQueues();
  await purgeDeleted(new Date());
  const withDemo = process.argv.includes('--demo');
  if (withDemo && (await models().projects.count()) === 0) await createDemoProject();
}

function toldOf(error: unknown): string {
  if (error instanceof ProblemError) return sentence(error.problem);
  return error instanceof Error && error.stack !== undefined ? error.stack : String(error);
}

let exitCode = 0;
try {
  await prepare();
} catch (error) {
  // Whoever starts the program reads this: a problem says what to do, a line of the bundle does not.
  process.stderr.write(`${toldOf(error)}\n`);
  exitCode = 1;
}
await database().close();
// A queue that was begun would keep the process.
process.exit(exitCode);
