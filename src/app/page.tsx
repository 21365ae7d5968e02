import { listProjects } from '@/server/projects';
import { ProjectList } from '@/stages/projects/ProjectList';

/** Projects on the first page of the list. */
const newest = 40;

export const dynamic = 'force-dynamic';

export default async function ProjectsPage() {
  // One more than are shown tells whether there are more.
  return <ProjectList initial={await listProjects(newest + 1)} newest={newest} />;
}
