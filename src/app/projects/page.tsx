import { redirect } from 'next/navigation';
import { listProjects } from '@/server/projects';
import { SignOut } from '@/ui/frame/account-menu';
import { TopBar } from '@/ui/frame/top-bar';
import { ProjectList } from '@/ui/projects/project-list';
import { pageActor } from '../page-access';

export default async function ProjectsPage() {
  const actor = await pageActor();
  if (actor.kind === 'guest') redirect(`/projects/${actor.projectId}/review`);
  return (
    <>
      <TopBar home="/projects">
        <SignOut name={actor.name} />
      </TopBar>
      <ProjectList projects={await listProjects(actor)} />
    </>
  );
}
