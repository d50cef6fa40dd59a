import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { db } from '@/db/database';
import { links } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import { mailbox } from '../../../tests/support/mailbox';
import { createLink, extendLink, listLinks, warnOfEndingLinks } from '../access/links';
import { createProject } from '../projects/projects';
import { keepSnapshot, mailSnapshots } from '../review/snapshots';
import { saveViewpoint } from '../review/viewpoints';
import { testAccount } from '../test-people';

/** What goes out by mail, read from the stand-in mail server. */

const mails = mailbox();
let lead: Awaited<ReturnType<typeof testAccount>>['actor'];
let project: string;

beforeAll(async () => {
  await useOwnDatabase('invitations');
  lead = (await testAccount('Ines')).actor;
  project = await createProject(lead, 'Town library', '');
});

function picture(format: 'jpeg' | 'png') {
  return sharp({ create: { width: 48, height: 30, channels: 3, background: '#9C3B2E' } })
    .toFormat(format)
    .toBuffer();
}

describe('mail', () => {
  it('invites with a picture, what the link allows and until when', async () => {
    const viewpointId = await saveViewpoint(lead, project, 'Door', INITIAL_VIEW, await picture('jpeg'));
    const { url, sentTo } = await createLink(lead, project, 'http://yurta.example', {
      right: 'comment',
      label: '<b>Board</b>',
      viewpointId,
      days: 10,
      passphrase: 'grey heron',
      sendTo: 'board@council.example',
    });
    expect(sentTo).toBe('board@council.example');
    const [mail] = await mails();
    expect(mail!.subject).toBe('Ines invites you to look at Town library');
    expect(mail!.text).toContain(url);
    expect(mail!.text).toContain('look at it and comment');
    expect(mail!.text).toContain(new Date(Date.now() + 10 * 24 * 3600 * 1000).toISOString().slice(0, 10));
    expect(mail!.text).not.toContain('heron');
    expect(mail!.html).toContain(`<a href="${url}">`);
    const [shown] = mail!.attachments;
    expect((await sharp(shown!.content).metadata()).width).toBe(48);
  });

  it('tells once that a link ends soon; one that was given more time is told of again', async () => {
    const { id } = await createLink(lead, project, 'http://yurta.example', { right: 'look', label: 'Short', days: 2 });
    expect([await warnOfEndingLinks(), await warnOfEndingLinks()]).toEqual([1, 0]);
    const told = (await mails()).at(-1)!;
    expect(told.subject).toMatch(/^Town library: the link for Short ends on \d{4}-\d\d-\d\d$/);
    expect(told.text).toContain(`/projects/${project}/prepare#links`);
    await extendLink(lead, project, id);
    expect((await listLinks(lead, project)).find((link) => link.id === id)!.state).toBe('open');
    await db()
      .update(links)
      .set({ expiresAt: new Date(Date.now() + 3600 * 1000) })
      .where(eq(links.id, id));
    expect(await warnOfEndingLinks()).toBe(1);
  });

  it('takes kept pictures along as files', async () => {
    const id = await keepSnapshot(lead, project, { name: 'Court: noon?', group: '', picture: await picture('png') });
    await mailSnapshots(lead, project, { ids: [id], to: 'bo@council.example', text: 'As asked' });
    const mail = (await mails()).at(-1)!;
    expect(mail.subject).toBe('Town library: Court: noon?');
    expect(mail.attachments.map(({ filename, contentType }) => [filename, contentType])).toEqual([
      ['Court  noon.png', 'image/png'],
    ]);
  });
});
