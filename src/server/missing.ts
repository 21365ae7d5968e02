import { problem } from '@/core/problem';

/** What is said when a project is not there. */
export const missing = (id: string) =>
  problem(
    'project_missing',
    id,
    'There is no such project.',
    'It was deleted, or its address is wrong.',
    'Go back to the list of projects.',
  );
