import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { emptyMeeting, reduceMeeting, type MeetingEvent } from '@/core/meeting/meeting';
import { INITIAL_VIEW, type ViewChange } from '@/core/view/view-state';
import { closeConnection, db } from '@/db/database';
import { account as credentials, guests, links, user } from '@/db/schema';
import { actorOf, authorise, GUEST_COOKIE, type Actor } from './access/access';
import { createAccount } from './access/accounts';
import { auth } from './access/auth';
import { changeComment } from './review/comment-changes';
import { commentsCsv } from './exchange/comment-tables';
import { listComments, say } from './review/comments';
import { createLink, enterByLink, extendLink, listLinks, openLink, revokeLink } from './access/links';
import { eventsAfter, meetingState, settle } from './review/meeting-log';
import { enterByCode, participantFor, runningMeeting, startMeeting } from './review/meetings';
import { meetingMinutes } from './minutes/minutes';
import { Problem } from './problems';
import { addMember, createProject, listProjects, readProject } from './projects/projects';
import {
  changeSnapshot,
  deleteSnapshot,
  keepSnapshot,
  listSnapshots,
  mailSnapshots,
  snapshotPicture,
} from './review/snapshots';
import {
  changeViewpoint,
  duplicateViewpoint,
  listViewpoints,
  moveViewpoint,
  saveViewpoint,
  setViewpointDeleted,
} from './review/viewpoints';

const view = {
  ...INITIAL_VIEW,
  camera: { position: [0, 0, 1] as [number, number, number], target: [0, 1, 1] as [number, number, number], fov: 50 },
};
const viewChanged = (change: ViewChange): MeetingEvent => ({ type: 'view-changed', change, viewpoint: null });
let lead: Actor;
let designer: Actor;
let stranger: Actor;
let project: string;

async function account(id: string): Promise<Actor> {
  await db()
    .insert(user)
    .values({ id, name: id, email: `${id}@example.test` });
  return { kind: 'user', id, name: id, email: `${id}@example.test` };
}

async function status(work: Promise<unknown>): Promise<number> {
  return work.then(
    () => 200,
    (error: unknown) => {
      if (error instanceof Problem) return error.status;
      throw error;
    },
  );
}

async function guestOf(secret: string): Promise<Actor | null> {
  return actorOf(new Headers({ cookie: `other=1; ${GUEST_COOKIE}=${secret}` }));
}

beforeAll(async () => {
  lead = await account('ines');
  designer = await account('mikko');
  stranger = await account('someone');
  project = await createProject(lead, 'Library', 'Lindenau');
  await addMember(project, designer.id, 'designer');
});
afterAll(() => closeConnection());

describe('accounts', () => {
  it('sign in with their password, whatever the case of the address, and only once each', async () => {
    await createAccount('Aino', 'Aino@Example.test', 'long enough here');
    const answer = await auth().api.signInEmail({
      body: { email: 'aino@example.test', password: 'long enough here' },
      asResponse: true,
    });
    expect(answer.status).toBe(200);
    const cookie = answer.headers
      .getSetCookie()
      .map((line) => line.split(';')[0])
      .join('; ');
    expect(await actorOf(new Headers({ cookie }))).toMatchObject({ kind: 'user', name: 'Aino' });
    expect(
      (await auth().api.signInEmail({ body: { email: 'aino@example.test', password: 'wrong one' }, asResponse: true }))
        .status,
    ).toBe(401);
    expect(await status(createAccount('Aino', 'AINO@example.test', 'long enough here'))).toBe(409);
    expect(await status(createAccount('B', 'b@example.test', 'short'))).toBe(400);
    expect(
      (await db().select().from(credentials).where(eq(credentials.providerId, 'credential'))).every(
        (row) => !row.password!.includes('long enough here'),
      ),
    ).toBe(true);
  });
});

describe('access', () => {
  it('tells a stranger nothing, and each role what it may', async () => {
    expect(await status(authorise(stranger, project, 'project.read'))).toBe(404);
    expect(await status(authorise(lead, 'not-an-id', 'project.read'))).toBe(404);
    expect(await status(authorise(designer, project, 'link.manage'))).toBe(403);
    expect(await authorise(lead, project, 'link.manage')).toBe('lead');
    expect((await listProjects(lead)).map((card) => card.id)).toContain(project);
    expect(await listProjects(stranger)).toEqual([]);
    expect((await readProject(designer, project)).name).toBe('Library');
  });
});

describe('links', () => {
  it('let a guest in by name, and stop at once when withdrawn or expired', async () => {
    const { id, url, qr } = await createLink(lead, project, 'http://localhost:1', { right: 'comment', label: 'Staff' });
    expect(qr).toContain('<svg');
    const token = url.split('/l/')[1]!;
    const [stored] = await db().select().from(links).where(eq(links.id, id));
    expect(JSON.stringify(stored)).not.toContain(token);

    const { secret, guestId } = await enterByLink(token, 'Tuula');
    const [row] = await db().select().from(guests).where(eq(guests.id, guestId));
    expect(JSON.stringify(row)).not.toContain(secret);
    const guest = (await guestOf(secret))!;
    expect(guest).toMatchObject({ kind: 'guest', name: 'Tuula', projectId: project, right: 'comment' });
    expect(await authorise(guest, project, 'comment.write')).toBe('guest-comment');
    expect(await status(authorise(guest, project, 'model.publish'))).toBe(403);

    await db()
      .update(links)
      .set({ expiresAt: new Date(Date.now() - 1000) })
      .where(eq(links.id, id));
    expect(await guestOf(secret)).toBeNull();
    expect(await status(openLink(token))).toBe(410);
    await extendLink(lead, project, id);
    expect(await guestOf(secret)).not.toBeNull();
    await revokeLink(lead, project, id);
    expect(await guestOf(secret)).toBeNull();
    expect(await status(openLink(token))).toBe(410);
    expect((await listLinks(lead, project))[0]!.state).toBe('revoked');
    expect(await status(openLink('unknown'))).toBe(404);
    expect(await guestOf('made-up')).toBeNull();
  });
});

describe('a link with more to it', () => {
  const tokenOf = (url: string) => url.split('/l/')[1]!;

  it('asks for its passphrase, however it is written', async () => {
    const { url } = await createLink(lead, project, 'http://x', {
      right: 'look',
      label: 'Board',
      passphrase: 'Grey heron',
    });
    expect(await status(enterByLink(tokenOf(url), 'Bo', 'wrong words'))).toBe(403);
    expect(await status(enterByLink(tokenOf(url), 'Bo'))).toBe(403);
    const { secret } = await enterByLink(tokenOf(url), 'Bo', ' grey  HERON ');
    expect(await guestOf(secret)).toMatchObject({ name: 'Bo' });
    const [link] = await listLinks(lead, project);
    expect(link).toMatchObject({ hasPassphrase: true, openings: [{ name: 'Bo' }] });
    expect(JSON.stringify(link)).not.toContain('heron');
  });

  it('lets somebody who comes back in the same browser be the same guest', async () => {
    const { url } = await createLink(lead, project, 'http://x', { right: 'comment', label: 'Again' });
    const first = await enterByLink(tokenOf(url), 'Tuula');
    const second = await enterByLink(tokenOf(url), 'Tuula K.', '', first.secret);
    expect([second.guestId, second.secret]).toEqual([first.guestId, first.secret]);
    expect((await enterByLink(tokenOf(url), 'Tuula')).guestId).not.toBe(first.guestId);
    // By another link one is somebody else.
    const other = await createLink(lead, project, 'http://x', { right: 'look', label: 'Other' });
    expect((await enterByLink(tokenOf(other.url), 'Tuula', '', first.secret)).guestId).not.toBe(first.guestId);
    const links = await listLinks(lead, project);
    expect(links.find(({ label }) => label === 'Again')!.openings.map(({ name }) => name)).toEqual(['Tuula', 'Tuula K.', 'Tuula K.']); // prettier-ignore
  });

  it('opens with a viewpoint that all may see, and lets its guests arrange where it says so', async () => {
    const shared = await saveViewpoint(lead, project, 'Door', view, null);
    const own = await saveViewpoint(lead, project, 'Mine', view, null, null, { isShared: false });
    expect(await status(createLink(lead, project, 'http://x', { right: 'edit', label: 'No', viewpointId: own }))).toBe(
      404,
    );
    const { url } = await createLink(lead, project, 'http://x', {
      right: 'edit',
      label: 'Partner',
      viewpointId: shared,
    });
    const { viewpointId, secret } = await enterByLink(tokenOf(url), 'Pia');
    expect(viewpointId).toBe(shared);
    const partner = (await guestOf(secret))!;
    await changeViewpoint(partner, project, shared, { name: 'Front door' });
    expect(await status(createLink(partner, project, 'http://x', { right: 'look', label: 'X' }))).toBe(403);
    for (const id of [shared, own]) await setViewpointDeleted(lead, project, id, true);
  });

  it('is not made where its invitation cannot be sent', async () => {
    const before = (await listLinks(lead, project)).length;
    expect(
      await status(createLink(lead, project, 'http://x', { right: 'look', label: 'Post', sendTo: 'a@b.example' })),
    ).toBe(409);
    expect(await listLinks(lead, project)).toHaveLength(before);
  });

  it('tells that it ends soon', async () => {
    await createLink(lead, project, 'http://x', { right: 'look', label: 'Short', days: 2 });
    expect((await listLinks(lead, project))[0]).toMatchObject({ label: 'Short', state: 'ends' });
  });
});

describe('kept pictures', () => {
  it('are whole pictures and nothing else, renamed, and gone when deleted', async () => {
    const picture = await sharp({ create: { width: 64, height: 40, channels: 3, background: '#34497F' } })
      .png()
      .toBuffer();
    const id = await keepSnapshot(lead, project, { name: 'Court at noon', group: 'Sun', picture });
    await changeSnapshot(designer, project, id, { name: 'Court' });
    expect(await listSnapshots(designer, project)).toMatchObject([{ id, name: 'Court', group: 'Sun', width: 64, height: 40, author: lead.name }]); // prettier-ignore
    expect((await sharp(await snapshotPicture(designer, project, id)).metadata()).format).toBe('png');
    const noPicture = Buffer.from('<svg onload="alert(1)"/>');
    expect(await status(keepSnapshot(lead, project, { name: 'x', group: '', picture: noPicture }))).toBe(400);
    expect(await status(snapshotPicture(stranger, project, id))).toBe(404);
    expect(await status(mailSnapshots(lead, project, { ids: [id], to: 'a@b.example', text: '' }))).toBe(409);
    await deleteSnapshot(lead, project, id);
    expect(await listSnapshots(lead, project)).toEqual([]);
  });

  it('are kept once when the same request comes again', async () => {
    const picture = await sharp({ create: { width: 8, height: 8, channels: 3, background: '#34497F' } })
      .png()
      .toBuffer();
    const keep = () => keepSnapshot(lead, project, { name: 'Court', group: '', picture }, 'lead:again');
    const id = await keep();
    expect(await keep()).toBe(id);
    expect((await listSnapshots(lead, project)).map((card) => card.id)).toEqual([id]);
  });
});

describe('viewpoints', () => {
  it('keep their order when moved, and come back after deletion', async () => {
    for (const name of ['a', 'b', 'c', 'd']) await saveViewpoint(lead, project, name, view, null);
    const order = async () => (await listViewpoints(lead, project)).map((card) => card.name).join('');
    const id = async (name: string) => (await listViewpoints(lead, project)).find((card) => card.name === name)!.id;
    await moveViewpoint(lead, project, await id('d'), 1);
    expect(await order()).toBe('adbc');
    await moveViewpoint(lead, project, await id('a'), 99);
    expect(await order()).toBe('dbca');
    const b = await id('b');
    await setViewpointDeleted(lead, project, b, true);
    expect(await order()).toBe('dca');
    await setViewpointDeleted(lead, project, b, false);
    expect(await order()).toBe('dbca');
    expect(await status(saveViewpoint(stranger, project, 'x', view, null))).toBe(404);
  });

  it('are their author’s own until they are shared, and keep their places meanwhile', async () => {
    const names = async (who: typeof lead) => (await listViewpoints(who, project)).map((card) => card.name);
    const before = await names(designer);
    const draft = await saveViewpoint(lead, project, 'draft', view, null, null, { isShared: false });
    expect(await names(lead)).toEqual([...before, 'draft']);
    expect(await names(designer)).toEqual(before);
    expect(await status(changeViewpoint(designer, project, draft, { name: 'mine' }))).toBe(404);
    await moveViewpoint(lead, project, draft, 1);
    // Somebody who does not see it moves the others about it.
    const last = (await listViewpoints(designer, project)).at(-1)!;
    await moveViewpoint(designer, project, last.id, 0);
    expect((await names(lead)).indexOf('draft')).toBe(1);
    await changeViewpoint(lead, project, draft, { isShared: true });
    expect((await names(designer)).indexOf('draft')).toBe(1);
    await setViewpointDeleted(lead, project, draft, true);
  });

  it('are duplicated with all that is known of them, right behind themselves', async () => {
    const details = { question: 'Too low?', minutes: 12, group: 'Roof', parts: ['camera' as const] };
    const id = await saveViewpoint(lead, project, 'roof', view, null, null, details);
    await moveViewpoint(lead, project, id, 0);
    const copy = await duplicateViewpoint(designer, project, id);
    const [first, second] = await listViewpoints(lead, project);
    expect([first!.id, second!.id]).toEqual([id, copy]);
    expect(second).toMatchObject({ ...details, name: 'roof, copy' });
    for (const one of [id, copy]) await setViewpointDeleted(lead, project, one, true);
    expect(await status(duplicateViewpoint(lead, project, id))).toBe(404);
  });
});

describe('a meeting', () => {
  it('numbers events without gaps however many come at once, and replays to the same state', async () => {
    const meeting = await startMeeting(lead, project, 'Evening');
    expect(meeting.code).toMatch(/^\d{6}$/);
    expect((await startMeeting(lead, project, 'Second')).id).toBe(meeting.id);
    expect((await runningMeeting(designer, project))!.code).toBeNull();

    const { secret } = await enterByCode(meeting.code!, 'Bo');
    const guest = (await guestOf(secret))!;
    for (const actor of [lead, designer, guest])
      await settle(meeting.id, null, { type: 'joined', participant: await participantFor(actor, project) });
    await Promise.all(
      Array.from({ length: 20 }, (_, i) =>
        settle(meeting.id, lead.id, viewChanged({ camera: { ...view.camera, fov: 30 + i } })),
      ),
    );
    const events = await eventsAfter(meeting.id, 0);
    expect(events.map((event) => event.seq)).toEqual(Array.from({ length: 24 }, (_, i) => i + 1));
    expect(events.reduce(reduceMeeting, emptyMeeting())).toEqual(await meetingState(meeting.id));
    expect(await status(settle(meeting.id, guest.id, viewChanged({ camera: view.camera })))).toBe(409);

    // What is said becomes part of the meeting, its minutes and the list.
    const id = await say(guest, project, {
      text: '=1+1 <script>',
      anchor: { element: null, point: [1, 2, 3] },
      elementName: 'Sill',
      view,
    });
    await say(lead, project, { text: 'Noted', replyTo: id });
    expect((await meetingState(meeting.id)).comments).toEqual([id]);
    await changeComment(designer, project, id, { status: 'closed' });
    expect(await status(changeComment(guest, project, id, { status: 'open' }))).toBe(403);
    expect(await listComments(guest, project)).toMatchObject([
      { number: 1, author: 'Bo', guest: true, status: 'closed' },
      { number: null, replyTo: id },
    ]);
    const csv = await commentsCsv(lead, project);
    expect(csv).toContain("'=1+1 <script>"); // no spreadsheet may run it
    expect(csv.split('\r\n')[1]).toContain('1,2,3,"Evening"');

    // What the sender has been told to have come to nothing is not settled afterwards.
    const before = (await meetingState(meeting.id)).seq;
    expect(await status(settle(meeting.id, lead.id, viewChanged({ camera: view.camera }), Date.now() - 1))).toBe(503);
    expect((await meetingState(meeting.id)).seq).toBe(before);
    await settle(meeting.id, lead.id, { type: 'ended' });
    expect(await guestOf(secret)).toBeNull();
    expect(await status(enterByCode(meeting.code!, 'Late'))).toBe(404);
    expect(await status(settle(meeting.id, lead.id, { type: 'lead-asked' }))).toBe(409);
    const { pdf } = await meetingMinutes(lead, meeting.id);
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    expect(await status(meetingMinutes(stranger, meeting.id))).toBe(404);
  });
});
