import { headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { guestSecret } from '@/server/access/access';
import { guestOfLink, noteOpening, openLink } from '@/server/access/links';
import { Problem } from '@/server/problems';
import { Door } from '@/ui/door/door';
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
export default async function LinkPage({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params;
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
    redirect(`/projects/${project.id}/review${link.viewpointId ? `?viewpoint=${link.viewpointId}` : ''}`);
  }
  return (
    <Door title={project.name} lead="You are invited to look at this design. Tell the others your name, then come in.">
      <GuestForm token={token} asksPassphrase={link.passphraseHash !== null} />
    </Door>
  );
}
