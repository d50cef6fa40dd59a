import { redirect } from 'next/navigation';
import { listProjects } from '@/server/projects/projects';
import { TopBar } from '@/ui/frame/top-bar';
import { ProjectList } from '@/ui/projects/project-list';
import { accountOf, pageActor } from '../page-access';

export default async function ProjectsPage() {
  const actor = await pageActor();
  if (actor.kind === 'guest') redirect(`/projects/${actor.projectId}/review`);
  return (
    <>
      <TopBar home="/projects" account={accountOf(actor)} />
      <ProjectList projects={await listProjects(actor)} />
    </>
  );
}
