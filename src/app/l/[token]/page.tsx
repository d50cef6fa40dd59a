import { headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { guestSecret } from '@/server/access/access';
import { guestOfLink, noteOpening, openLink } from '@/server/access/links';
import { Problem } from '@/server/problems';
import { Door } from '@/ui/door/door';
import { behindDoor } from '@/ui/door/behind-door';
import { GuestForm } from '@/ui/door/guest-form';

async function look(token: string) {
  try {
    return { ...(await openLink(token)), reason: '' };
  } catch (error) {
    if (error instanceof Problem) return { project: null, link: null, reason: error.message };
    throw error;
  }
}

/** The guest's door: a name, and a passphrase where the link has one. */
export default async function LinkPage({
  params,
  searchParams,
}: {
  params: Promise<{ token: string }>;
  searchParams: Promise<{ comment?: string; approval?: string }>;
}) {
  const { token } = await params;
  const wanted = await searchParams;
  const { project, link, reason } = await look(token);
  if (!project)
    return (
      <Door title="This link does not open" lead={reason}>
        {null}
      </Door>
    );
  const secret = guestSecret(await headers());
  const known = secret && (await guestOfLink(secret, link.id));
  // Whoever was here before is the same guest, and is not asked again.
  if (known) {
    await noteOpening(link.id, known.id);
    redirect(behindDoor(project.id, link.viewpointId, wanted));
  }
  return (
    <Door title={project.name} lead="You are invited to look at this design. Tell the others your name, then come in.">
      <GuestForm token={token} wanted={wanted} asksPassphrase={link.passphraseHash !== null} />
    </Door>
  );
}
