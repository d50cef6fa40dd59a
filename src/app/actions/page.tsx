import { redirect } from 'next/navigation';
import { ownActions } from '@/server/review/comment-changes';
import { OwnActions } from '@/ui/actions/own-actions';
import { TopBar } from '@/ui/frame/top-bar';
import { accountOf, pageActor } from '../page-access';

export default async function ActionsPage() {
  const actor = await pageActor();
  if (actor.kind === 'guest') redirect(`/projects/${actor.projectId}/review`);
  return (
    <>
      <TopBar home="/projects" account={accountOf(actor)} />
      <OwnActions initial={await ownActions(actor)} />
    </>
  );
}
