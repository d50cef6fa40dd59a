import { mkdtemp, rm } from 'node:fs/promises';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Actor } from '../access/access';
import { db } from '@/db/database';
import { comments, trackedIssues, trackers } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import { startIssueTracker } from '@/stand-ins/issue-tracker/issue-tracker';
import { addMember, createProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { changeComment, commentHistory } from '../review/comment-changes';
import { listComments, say } from '../review/comments';
import { testAccount, testGuest } from '../test-people';
import { connectTracker, readTracker, settleConflict, syncTrackers } from './tracker';

const TOKEN = 'sample';
let folder: string;
let tracker: Awaited<ReturnType<typeof startIssueTracker>>;
let lead: Actor & { email: string };
let designer: Actor & { email: string };
let project: string;

beforeAll(async () => {
  process.env.YURTA_REACH_OWN_NETWORK = '1';
  await useOwnDatabase('tracker');
  folder = await mkdtemp(join(tmpdir(), 'tracker-'));
  lead = (await testAccount('Ines')).actor as typeof lead;
  designer = (await testAccount('Mikko')).actor as typeof designer;
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
  await rm(folder, { recursive: true, force: true });
});
beforeEach(async () => {
  await tracker?.close();
  await rm(join(folder, 'issues.json'), { force: true });
  tracker = await startIssueTracker(folder, 0, TOKEN);
  await db().delete(trackers);
  project = await createProject(lead, 'Town library', '');
  await addMember(project, designer.id, 'designer');
  await connectTracker(lead, project, `${tracker.origin}/`, TOKEN);
});

/** The tracker's own door, as another program would use it. */
async function there<T>(method: string, path: string, body?: unknown): Promise<T> {
  const answer = await fetch(`${tracker.origin}${path}`, {
    method,
    headers: { Authorization: `Bearer ${TOKEN}` },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  return (await answer.json()) as T;
}
interface Issue {
  id: string;
  version: number;
  body: string;
  state: string;
  owner: string;
  due: string;
  deleted: boolean;
  notes: { text: string; author: string }[];
}
const issues = async () => (await there<{ issues: Issue[] }>('GET', '/changes?since=')).issues;
const here = async (id: string) => (await listComments(lead, project)).find((comment) => comment.id === id)!;

describe('a project and its tracker', () => {
  it('tell each other what is new: comments with owner and day, issues, and notes both ways', async () => {
    const id = await say(lead, project, { text: 'Lower the sill', kind: 'action', assignee: { id: designer.id }, dueOn: '2026-12-24' }); // prettier-ignore
    await say(designer, project, { text: 'To what height?', replyTo: id });
    await syncTrackers();
    const [issue] = await issues();
    expect(issue).toMatchObject({ body: 'Lower the sill', state: 'todo', owner: designer.email, due: '2026-12-24', notes: [{ text: 'To what height?', author: 'Mikko' }] }); // prettier-ignore

    await there('POST', `/issues/${issue!.id}/notes`, { text: '55 cm', author: 'Pia' });
    await there('POST', '/issues', { body: 'Order the panes', type: 'task', owner: 'pia@glass.example' });
    await syncTrackers();
    const all = await listComments(lead, project);
    expect(all.filter(({ replyTo }) => replyTo === id).map(({ text, author }) => [author, text])).toEqual([['Mikko', 'To what height?'], ['Pia', '55 cm']]); // prettier-ignore
    expect(all.find(({ text }) => text === 'Order the panes')).toMatchObject({ number: 2, kind: 'action', assignee: { id: null, email: 'pia@glass.example' } }); // prettier-ignore
  });

  it('change the same thing only once, however often they talk', async () => {
    const id = await say(lead, project, { text: 'Sill', kind: 'action' });
    await say(lead, project, { text: 'Answer', replyTo: id });
    for (let i = 0; i < 4; i++) {
      await db().update(trackers).set({ toldCount: -1, cursor: '0' });
      await syncTrackers();
    }
    const [issue, ...others] = await issues();
    expect([others.length, issue!.notes.length, (await listComments(lead, project)).length]).toEqual([0, 1, 2]);
  });

  it('hand on status, assignee, day, words and deletion both ways, with a history here', async () => {
    const id = await say(lead, project, { text: 'Sill', kind: 'action' });
    await syncTrackers();
    const [issue] = await issues();
    await there('PATCH', `/issues/${issue!.id}`, { state: 'doing', owner: designer.email, due: '2026-12-01', body: 'Sill, 55 cm' }); // prettier-ignore
    await syncTrackers();
    expect(await here(id)).toMatchObject({ status: 'in-work', assignee: { id: designer.id }, dueOn: '2026-12-01', text: 'Sill, 55 cm' }); // prettier-ignore
    expect((await commentHistory(lead, project, id)).at(-1)).toMatchObject({ by: 'Issue tracker' });

    await changeComment(designer, project, id, { status: 'closed' });
    await syncTrackers();
    expect((await issues())[0]).toMatchObject({ state: 'done', body: 'Sill, 55 cm' });

    await there('PATCH', `/issues/${issue!.id}`, { deleted: true });
    await syncTrackers();
    expect(await here(id)).toBeUndefined();
    await changeComment(lead, project, id, { deleted: false });
    await syncTrackers();
    expect((await issues())[0]!.deleted).toBe(false);
  });

  it.each(['here', 'there'] as const)(
    'show what both have changed to different things, until somebody says that what is %s holds',
    async (keeps) => {
      const id = await say(lead, project, { text: 'Sill', kind: 'action' });
      await syncTrackers();
      const [issue] = await issues();
      await changeComment(lead, project, id, { text: 'Sill: 60', priority: 'high' });
      await there('PATCH', `/issues/${issue!.id}`, { body: 'Sill: 50', state: 'doing' });
      for (let i = 0; i < 3; i++) await syncTrackers();
      // What only one side has changed has moved; of the words neither side has lost its own.
      expect(await here(id)).toMatchObject({ text: 'Sill: 60', status: 'in-work', conflict: { text: 'Sill: 50' } });
      expect((await issues())[0]).toMatchObject({ body: 'Sill: 50', urgency: 'high' });
      expect(await readTracker(lead, project)).toMatchObject({ conflicts: 1, trouble: '' });

      await settleConflict(lead, project, id, keeps);
      await db().update(trackers).set({ toldCount: -1 });
      await syncTrackers();
      await syncTrackers();
      const wanted = keeps === 'here' ? 'Sill: 60' : 'Sill: 50';
      expect([(await here(id)).text, (await issues())[0]!.body, (await here(id)).conflict]).toEqual([
        wanted,
        wanted,
        null,
      ]);
    },
  );

  it('are the same again after an outage, and whatever was changed during it', async () => {
    const id = await say(lead, project, { text: 'Sill', kind: 'action' });
    await syncTrackers();
    const { port } = new URL(tracker.origin);
    await tracker.close();
    await changeComment(lead, project, id, { status: 'closed' });
    await say(lead, project, { text: 'Said meanwhile' });
    await syncTrackers();
    expect((await readTracker(lead, project))!.trouble).toBe('It cannot be reached.');
    tracker = await startIssueTracker(folder, Number(port), TOKEN);
    await syncTrackers();
    expect((await readTracker(lead, project))!.trouble).toBe('');
    expect((await issues()).map(({ body, state }) => `${body} ${state}`).sort()).toEqual(['Said meanwhile todo', 'Sill done']); // prettier-ignore
  });

  it('make nothing twice where a process ends before it has noted what the tracker made', async () => {
    const id = await say(lead, project, { text: 'Sill' });
    await syncTrackers();
    await db().delete(trackedIssues).where(eq(trackedIssues.commentId, id));
    await db().update(trackers).set({ toldCount: -1, cursor: '0' });
    await syncTrackers();
    await syncTrackers();
    expect((await issues()).length).toBe(1);
    expect((await db().select().from(comments).where(eq(comments.projectId, project))).length).toBe(1);
  });

  it('are brought together by one process at a time, however long that takes', async () => {
    let answerLate = () => {};
    let asked = 0;
    const late = createServer((_, response) => {
      const answer = () => response.end(JSON.stringify({ issues: [], cursor: '0' }));
      if (asked++ === 0) answer();
      else answerLate = answer;
    });
    const { port } = await new Promise<AddressInfo>((done) =>
      late.listen(0, '127.0.0.1', () => done(late.address() as AddressInfo)),
    );
    await connectTracker(lead, project, `http://127.0.0.1:${port}`, TOKEN);
    const first = syncTrackers(150);
    await expect.poll(() => asked).toBe(2);
    await new Promise((done) => setTimeout(done, 500));
    expect(await syncTrackers(150)).toBe(0);
    answerLate();
    expect(await first).toBe(1);
    expect(await readTracker(lead, project)).toMatchObject({ trouble: '' });
    late.close();
  });

  it('is connected only where it answers to the token, and seen by whoever leads', async () => {
    await expect(connectTracker(lead, project, tracker.origin, 'wrong')).rejects.toMatchObject({ status: 409 });
    await expect(connectTracker(lead, project, 'http://127.0.0.1:1', TOKEN)).rejects.toMatchObject({ status: 409 });
    const guest = (await testGuest(lead, project, 'comment', 'Bo')).actor;
    for (const actor of [designer, guest])
      await expect(readTracker(actor, project)).rejects.toMatchObject({ status: 403 });
  });
});
