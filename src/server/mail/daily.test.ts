import { sql } from 'drizzle-orm';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { db } from '@/db/database';
import { useOwnDatabase } from '@/db/test-database';
import { mailbox } from '../../../tests/support/mailbox';
import type { Actor } from '../access/access';
import { addMember, createProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { feedPeople, readFeed } from '../review/activities';
import { changeComment } from '../review/comment-changes';
import { say } from '../review/comments';
import { testAccount, testGuest } from '../test-people';
import { handOverDailyMails, mailDay, setDailyMail, wantsDailyMail } from './daily';
import { mailMention } from './mentions';

const mails = mailbox();
let lead: Actor;
let designer: Actor;
let project: string;
beforeAll(async () => {
  await useOwnDatabase('daily');
  lead = (await testAccount('Ines')).actor;
  designer = (await testAccount('Mikko')).actor;
  project = await createProject(lead, 'Town library', '');
  await addMember(project, designer.id, 'designer');
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
});

const waiting = async (kind: string) =>
  (await db().execute<{ data: Record<string, string> }>(sql`select data from pgboss.job where name = 'mail' and data ? ${kind}`)).rows.map(({ data }) => data); // prettier-ignore

it('the feed tells what was done, to members, by person and kind', async () => {
  const id = await say(designer, project, { text: 'Lower the sill' });
  await changeComment(lead, project, id, { status: 'closed' });
  const feed = await readFeed(lead, { projectId: project });
  expect(feed.map(({ by, kind, text }) => [by.name, kind, text])).toEqual([
    ['Ines', 'changed', 'number 1: status Open → Closed'],
    ['Mikko', 'said', 'Lower the sill'],
  ]);
  expect(await readFeed(lead, { by: 'Mikko', kinds: ['said'] })).toMatchObject([{ project: 'Town library' }]);
  expect((await readFeed(lead, { before: feed[0]!.id })).map(({ kind }) => kind)).toEqual(['said']);
  expect(await feedPeople(lead, project)).toEqual(['Ines', 'Mikko']);
  const stranger = (await testAccount('Stranger')).actor;
  expect(await readFeed(stranger, {})).toEqual([]);
  await expect(readFeed(stranger, { projectId: project })).rejects.toMatchObject({ status: 404 });
  const guest = (await testGuest(lead, project, 'comment', 'Bo')).actor;
  await expect(readFeed(guest, { projectId: project })).rejects.toMatchObject({ status: 403 });
});

it('a mail a day tells those who wish what others did, once a day', async () => {
  await setDailyMail(lead, true);
  expect([await wantsDailyMail(lead), await wantsDailyMail(designer)]).toEqual([true, false]);
  const began = new Date();
  await say(lead, project, { text: 'My own words' });
  await say(designer, project, { text: 'Words of another' });
  const tomorrow = new Date(Date.now() + 24 * 60 * 60 * 1000);
  tomorrow.setUTCHours(5, 30, 0, 0);
  const night = new Date(tomorrow);
  night.setUTCHours(3);
  expect(await handOverDailyMails(night)).toBe(0);
  const handed = await Promise.all([handOverDailyMails(tomorrow), handOverDailyMails(tomorrow)]);
  expect(handed.reduce((sum, one) => sum + one)).toBe(1);
  expect(await waiting('daily')).toHaveLength(1);
  await mailDay(lead.id, began);
  const mail = (await mails()).at(-1)!;
  expect(mail.subject).toBe('Town library: 1 thing was done');
  expect(mail.text).toContain('Mikko said Words of another');
  expect(mail.text).not.toContain('My own words');
  await setDailyMail(lead, false);
  expect(await handOverDailyMails(new Date(tomorrow.getTime() + 48 * 60 * 60 * 1000))).toBe(0);
});

it('whoever is named by @ gets a mail with the way there; who names themselves does not', async () => {
  const id = await say(lead, project, { text: '@Mikko and @Ines, look' });
  expect(await waiting('mention')).toEqual([{ mention: id, to: (designer as { email: string }).email, by: 'Ines' }]);
  await mailMention(id, 'mikko@karras.example', 'Ines');
  const mail = (await mails()).at(-1)!;
  expect(mail.subject).toBe('Town library: Ines names you');
  expect(mail.text).toContain(`review?comment=${id}`);
});
