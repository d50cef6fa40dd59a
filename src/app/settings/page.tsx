import { redirect } from 'next/navigation';
import { listTokens } from '@/server/access/tokens';
import { wantsDailyMail } from '@/server/mail/daily';
import { TopBar } from '@/ui/frame/top-bar';
import { Settings } from '@/ui/settings/settings';
import { accountOf, pageActor } from '../page-access';

export default async function SettingsPage() {
  const actor = await pageActor();
  if (actor.kind === 'guest') redirect(`/projects/${actor.projectId}/review`);
  return (
    <>
      <TopBar home="/projects" account={accountOf(actor)} />
      <Settings
        name={actor.name}
        email={actor.email}
        tokens={await listTokens(actor)}
        dailyMail={await wantsDailyMail(actor)}
      />
    </>
  );
}
