import { ProjectList } from '@/stages/projects/ProjectList';
import { listProjects } from '@/server/projects';

export const dynamic = 'force-dynamic';

export default async function ProjectsPage() {
  const projects = await listProjects();
  // Dates become text on the way to the browser; here they do so at once, so that both sides agree.
  return (
    <ProjectList
      initial={projects.map((project) => ({
        ...project,
        updatedAt: new Date(project.updatedAt).toISOString(),
      }))}
    />
  );
}
