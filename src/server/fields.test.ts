import sharp from 'sharp';
import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { PublishReport } from '@/core/project/publish-report';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { TOKEN_RIGHTS, type TokenRight } from '@/core/rights';
import { db } from '@/db/database';
import { models, revisions } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import { actorOf, type Actor } from './access/access';
import { createLink, enterByLink } from './access/links';
import { createToken } from './access/tokens';
import { config } from './config';
import { markSeen } from './mail/notices';
import { addMember, createProject, readProject, readRevision } from './projects/projects';
import { placeModel } from './projects/placing';
import { queue } from './publishing/queue';
import { repeatRevision, withdrawRevision } from './publishing/revision-history';
import { attach } from './review/attachments';
import { setView } from './review/comment-views';
import { listComments, say } from './review/comments';
import { createOptionSet } from './review/options';
import { keepSnapshot } from './review/snapshots';
import { changeViewpoint, saveViewpoint } from './review/viewpoints';
import { testAccount } from './test-people';

/** Not only which requests somebody may make is decided by right, but what the answers tell. */

let lead: Actor;
let designer: Actor;
let project: string;
let modelId: string;
let revisionId: string;

beforeAll(async () => {
  await useOwnDatabase('fields');
  process.env.YURTA_SMTP_URL = 'smtp://127.0.0.1:1';
  lead = (await testAccount('Lead')).actor;
  designer = (await testAccount('Designer')).actor;
});
afterAll(async () => {
  delete process.env.YURTA_SMTP_URL;
  await (await queue()).stop({ graceful: false });
});
beforeEach(async () => {
  project = await createProject(lead, 'Fields', '');
  await addMember(project, designer.id, 'designer');
  modelId = uuidv7();
  revisionId = uuidv7();
  await db().insert(models).values({ id: modelId, projectId: project, name: 'House', discipline: 'Architecture' });
  await db()
    .insert(revisions)
    .values({
      id: revisionId,
      projectId: project,
      modelId,
      number: 1,
      state: 'published',
      note: 'Not for the client',
      fileName: 'secret-client-name.ifc',
      fileBytes: 7,
      authorId: lead.id,
      contentId: uuidv7(),
      publishedAt: new Date(),
      settings: {
        reveal: { of: [{ also: [] }, { except: [{ is: 'category', value: 'Staff' }] }], knownCategories: [] },
      },
      report: { findings: [], cameras: [], withheld: 9 } as unknown as PublishReport,
    });
});

async function guest(right: 'look' | 'comment' | 'edit'): Promise<Actor> {
  const { url } = await createLink(lead, project, 'http://localhost', { right, label: right });
  const { secret } = await enterByLink(url.split('/l/')[1]!, 'Bo');
  return (await actorOf(new Headers({ cookie: `yurta_guest=${secret}` })))!;
}

const program = async (right: TokenRight) =>
  (await actorOf(new Headers({ authorization: `Bearer ${(await createToken(lead, right, right)).token}` })))!;

describe('what answers tell', () => {
  it('of revisions: members hear how they were made and what is withheld, guests that they are there', async () => {
    for (const actor of [lead, designer]) {
      const told = JSON.stringify(await readProject(actor, project));
      for (const word of ['secret-client-name', 'Not for the client', 'Staff']) expect(told).toContain(word);
      expect((await readRevision(actor, revisionId)).report).not.toBeNull();
    }
    for (const right of ['look', 'comment', 'edit'] as const) {
      const actor = await guest(right);
      const told = await readProject(actor, project);
      expect(told.models[0]).toMatchObject({ name: 'House', revisions: [{ id: revisionId, code: 'P01' }] });
      for (const word of ['secret-client-name', 'Not for the client', 'Staff', 'Lead'])
        expect([right, word, JSON.stringify(told).includes(word)]).toEqual([right, word, false]);
      await expect(readRevision(actor, revisionId)).rejects.toMatchObject({ status: 403 });
    }
  });

  it('of comments: addresses only to those who may give what was said to somebody', async () => {
    await say(lead, project, { text: 'Lower it', kind: 'action', assignee: { email: 'glazier@panes.example' } });
    for (const [actor, hears] of [
      [lead, true],
      [designer, true],
      [await guest('edit'), true],
      [await guest('comment'), false],
      [await guest('look'), false],
    ] as const)
      expect((await listComments(actor, project))[0]!.assignee!.email !== null).toBe(hears);
  });
});

describe('what programs may do', () => {
  it('changes nothing that stands: that takes a person', async () => {
    for (const right of TOKEN_RIGHTS) {
      const actor = await program(right);
      for (const act of [
        () => withdrawRevision(actor, revisionId),
        () => repeatRevision(actor, revisionId),
        () => placeModel(actor, project, modelId, { by: 'origin' } as never),
        () => createOptionSet(actor, project, { name: 'Roof', options: [] }),
        () => markSeen(actor),
      ])
        await expect(act()).rejects.toMatchObject({ status: 403 });
    }
    await withdrawRevision(lead, revisionId);
  });
});

describe('what is shown', () => {
  it('is taken from nobody by a guest who may arrange', async () => {
    const shared = await saveViewpoint(lead, project, 'Court', INITIAL_VIEW, null);
    const actor = await guest('edit');
    const own = await saveViewpoint(actor, project, 'Mine', INITIAL_VIEW, null);
    await changeViewpoint(actor, project, own, { isShared: false });
    await expect(changeViewpoint(actor, project, shared, { isShared: false })).rejects.toMatchObject({ status: 403 });
    await changeViewpoint(designer, project, shared, { isShared: false });
  });
});

describe('what is said', () => {
  it('is about something in this project', async () => {
    const other = await createProject(lead, 'Other', '');
    const anchor = { element: { model: modelId, guid: 'g' }, point: [0, 0, 0] as [number, number, number] };
    await expect(say(lead, other, { text: 'There', anchor })).rejects.toMatchObject({ status: 400 });
    await say(lead, project, { text: 'Here', anchor });
  });

  it('by a guest comes with so many pictures and files and no more', async () => {
    const limits = config() as { maxGuestBytes: number };
    const before = limits.maxGuestBytes;
    limits.maxGuestBytes = 1000;
    try {
      const actor = await guest('comment');
      const id = await say(actor, project, { text: 'See', picture: Buffer.alloc(600, 1) });
      await expect(say(actor, project, { text: 'And', picture: Buffer.alloc(600, 1) })).rejects.toMatchObject({ status: 413 }); // prettier-ignore
      await expect(attach(actor, project, id, { name: 'a.txt', content: Buffer.alloc(600, 65) })).rejects.toMatchObject({ status: 413 }); // prettier-ignore
      await attach(actor, project, id, { name: 'a.txt', content: Buffer.alloc(300, 65) });
      await say(actor, project, { text: 'Words are free' });
      await say(lead, project, { text: 'Mine', picture: Buffer.alloc(6000, 1) });
      // Views count as well, and what one may arrange.
      const named = Array.from({ length: 60 }, (_, i) => `guid-${i}-${Math.sqrt(i + 2)}`);
      const view = { ...INITIAL_VIEW, selection: [[{ is: 'model' as const, value: modelId }, { is: 'element' as const, guids: named }]] }; // prettier-ignore
      const other = await guest('edit');
      await expect(say(other, project, { text: 'Look', view })).rejects.toMatchObject({ status: 413 });
      const empty = await say(other, project, { text: 'Look' });
      await expect(setView(other, project, empty, view, null)).rejects.toMatchObject({ status: 413 });
      await expect(saveViewpoint(other, project, 'Look', view, null)).rejects.toMatchObject({ status: 413 });
      const small = await saveViewpoint(other, project, 'Look', INITIAL_VIEW, Buffer.alloc(100, 1));
      await expect(changeViewpoint(other, project, small, { picture: Buffer.alloc(900, 1) })).rejects.toMatchObject({ status: 413 }); // prettier-ignore
      const picture = await sharp({ create: { width: 60, height: 60, channels: 3, background: '#abc', noise: { type: 'gaussian', mean: 99, sigma: 40 } } }).png().toBuffer(); // prettier-ignore
      await expect(keepSnapshot(other, project, { name: 'A', group: '', picture })).rejects.toMatchObject({ status: 413 }); // prettier-ignore
    } finally {
      limits.maxGuestBytes = before;
    }
  });
});
