import { notFound, redirect } from 'next/navigation';
import { hasOutbox, listOutbox } from '@/server/mail/outbox';
import { TopBar } from '@/ui/frame/top-bar';
import { Outbox } from '@/ui/outbox/outbox';
import { accountOf, pageActor } from '../page-access';

export default async function OutboxPage() {
  const actor = await pageActor();
  if (actor.kind === 'guest') redirect(`/projects/${actor.projectId}/review`);
  if (!hasOutbox()) notFound();
  return (
    <>
      <TopBar home="/projects" account={accountOf(actor)} />
      <Outbox mails={await listOutbox(actor)} />
    </>
  );
}
