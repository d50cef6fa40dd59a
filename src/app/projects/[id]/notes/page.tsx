import { notFound } from 'next/navigation';
import { authorise } from '@/server/access/access';
import { readProject } from '@/server/projects/projects';
import { listNotes } from '@/server/review/notes';
import { TopBar } from '@/ui/frame/top-bar';
import { OwnNotes } from '@/ui/notes/own-notes';
import { accountOf, orNotFound, pageActor } from '../../../page-access';

export default async function NotesPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const actor = await pageActor();
  await orNotFound(authorise(actor, id, 'minutes.read'));
  if (actor.kind === 'guest') notFound();
  const [project, notes] = await Promise.all([readProject(actor, id), listNotes(actor, id)]);
  return (
    <>
      <TopBar home="/projects" project={project} station="follow-up" account={accountOf(actor)} />
      <OwnNotes projectId={id} you={actor.id} initial={notes} />
    </>
  );
}
