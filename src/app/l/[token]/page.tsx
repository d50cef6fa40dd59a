import { openLink } from '@/server/access/links';
import { Problem } from '@/server/problems';
import { Door } from '@/ui/door/door';
import { GuestForm } from '@/ui/door/guest-form';

async function look(token: string) {
  try {
    return { project: (await openLink(token)).project, reason: '' };
  } catch (error) {
    if (error instanceof Problem) return { project: null, reason: error.message };
    throw error;
  }
}

/** The guest's door: a name, nothing else. */
export default async function LinkPage({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params;
  const { project, reason } = await look(token);
  if (!project)
    return (
      <Door title="This link does not open" lead={reason}>
        {null}
      </Door>
    );
  return (
    <Door title={project.name} lead="You are invited to look at this design. Tell the others your name, then come in.">
      <GuestForm token={token} />
    </Door>
  );
}
