import { eq, sql } from 'drizzle-orm';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { db } from '@/db/database';
import { meetings } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import { mailbox } from '../../../tests/support/mailbox';
import { actorOf, GUEST_COOKIE } from '../access/access';
import { addMember, createProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { say } from '../review/comments';
import { settle } from '../review/meeting-log';
import { enterByCode, participantFor, startMeeting } from '../review/meetings';
import { testAccount } from '../test-people';
import { handOverMinutes, mailMinutes } from './minutes';

const mails = mailbox();
beforeAll(async () => {
  await useOwnDatabase('minutes');
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
});

/** What waits to be mailed. */
async function waiting(): Promise<string[]> {
  const { rows } = await db().execute<{ to: string }>(sql`select data->>'to' as "to" from pgboss.job where name = 'mail' and data ? 'minutes'`); // prettier-ignore
  return rows.map(({ to }) => to).sort();
}

it('minutes go to members and to guests who gave an address, to each once, however often and by whomever they are looked for', async () => {
  const lead = (await testAccount('Ines')).actor;
  const designer = (await testAccount('Mikko')).actor;
  const project = await createProject(lead, 'Town library', '');
  await addMember(project, designer.id, 'designer');
  const meeting = await startMeeting(lead, project, 'Council <b>evening</b>');
  const { secret } = await enterByCode(meeting.code!, 'Bo', 'Bo@council.example');
  const quiet = await enterByCode(meeting.code!, 'Lo');
  for (const own of [secret, quiet.secret]) {
    const guest = (await actorOf(new Headers({ cookie: `${GUEST_COOKIE}=${own}` })))!;
    await settle(meeting.id, null, { type: 'joined', participant: await participantFor(guest, project) });
  }
  await say(lead, project, {
    text: 'Lower the sill',
    kind: 'action',
    assignee: { id: designer.id },
    view: INITIAL_VIEW,
  });
  expect(await handOverMinutes()).toBe(0); // it still goes on
  await settle(meeting.id, null, { type: 'ended' });
  expect(await handOverMinutes()).toBe(1);
  const once = await waiting();
  expect(once).toHaveLength(3);
  expect(once).toContain('bo@council.example');

  // A process that was ended right before it could note that they were handed over does no harm.
  await db().update(meetings).set({ minutesSentAt: null }).where(eq(meetings.id, meeting.id));
  await Promise.all([handOverMinutes(), handOverMinutes()]);
  expect(await waiting()).toEqual(once);

  await mailMinutes(meeting.id, 'bo@council.example');
  const mail = (await mails())[0]!;
  expect(mail.subject).toBe('Minutes: Council <b>evening</b>');
  expect(mail.attachments[0]).toMatchObject({ contentType: 'application/pdf' });
  expect(mail.attachments[0]!.content.subarray(0, 5).toString()).toBe('%PDF-');
});
