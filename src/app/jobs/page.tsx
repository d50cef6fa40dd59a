import { redirect } from 'next/navigation';
import { listJobs } from '@/server/publishing/jobs';
import { listProjects } from '@/server/projects/projects';
import { TopBar } from '@/ui/frame/top-bar';
import { Jobs } from '@/ui/jobs/jobs';
import { accountOf, pageActor } from '../page-access';

export default async function JobsPage() {
  const actor = await pageActor();
  if (actor.kind === 'guest') redirect(`/projects/${actor.projectId}/review`);
  const [jobs, projects] = await Promise.all([listJobs(actor, 'all'), listProjects(actor)]);
  return (
    <>
      <TopBar home="/projects" account={accountOf(actor)} />
      <Jobs initial={jobs} projectIds={projects.map(({ id }) => id)} />
    </>
  );
}
