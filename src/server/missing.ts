import { problem } from '@/core/problem';
import { models } from './models';

/** What is said when a project is not there. */
export const missing = () =>
  problem(
    'project_missing',
    '',
    'There is no such project.',
    'It was deleted, or its address is wrong.',
    'Go back to the list of projects.',
    'missing',
  );

/** @throws ProblemError `project_missing` when it is not there, or deleted */
export async function requireProject(id: string): Promise<void> {
  if ((await models().projects.count({ where: { id } })) === 0) throw missing();
}
