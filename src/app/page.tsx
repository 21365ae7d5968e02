import { listProjects } from '@/server/projects';
import { ProjectList } from '@/stages/projects/ProjectList';

export const dynamic = 'force-dynamic';

export default async function ProjectsPage() {
  return <ProjectList initial={await listProjects()} />;
}
