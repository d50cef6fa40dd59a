import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { commentChangeSchema } from '@/core/project/comment-schema';
import { db } from '@/db/database';
import { comments, members } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import { mailbox } from '../../../tests/support/mailbox';
import { mailAssignment } from '../mail/assignments';
import { Problem } from '../problems';
import { addMember, createProject } from '../projects/projects';
import { testAccount, testGuest, type TestPerson } from '../test-people';
import { listAssignees } from './assignees';
import { changeComment, changeComments, commentHistory, ownActions, remindOfActions } from './comment-changes';
import { listComments, say } from './comments';

const mails = mailbox();
let lead: TestPerson['actor'];
let designer: TestPerson['actor'];
let stranger: TestPerson['actor'];
let guest: TestPerson['actor'];
let looker: TestPerson['actor'];
let project: string;

beforeAll(async () => {
  await useOwnDatabase('comment_changes');
  lead = (await testAccount('Ines')).actor;
  designer = (await testAccount('Mikko')).actor;
  stranger = (await testAccount('Sunniva')).actor;
  project = await createProject(lead, 'Town library', '');
  await addMember(project, designer.id, 'designer');
  guest = (await testGuest(lead, project, 'comment', 'Bo')).actor;
  looker = (await testGuest(lead, project, 'look', 'Lo')).actor;
});

const status = (work: Promise<unknown>) =>
  work.then(
    () => 200,
    (error: unknown) => (error instanceof Problem ? error.status : Promise.reject(error as Error)),
  );
const found = async (id: string, actor = lead) => (await listComments(actor, project)).find((one) => one.id === id);
describe('what is to be done', () => {
  it('is said with who, by when and how urgent; guests say remarks and questions', async () => {
    const id = await say(lead, project, {
      text: 'Lower the sill',
      kind: 'action',
      assignee: { id: designer.id },
      dueOn: '2026-12-24',
      priority: 'high',
    });
    expect(await found(id)).toMatchObject({
      kind: 'action',
      status: 'open',
      assignee: { id: designer.id, name: 'Mikko' },
      dueOn: '2026-12-24',
      priority: 'high',
      isOwn: true,
    });
    expect(await found(await say(guest, project, { text: 'Why?', kind: 'question' }))).toMatchObject({
      kind: 'question',
      isOwn: false,
    });
    expect(await status(say(guest, project, { text: 'Do it', kind: 'action' }))).toBe(403);
    expect(await status(say(guest, project, { text: 'Do it', dueOn: '2026-12-24' }))).toBe(403);
    expect(await status(say(lead, project, { text: 'Do', kind: 'action', assignee: { id: stranger.id } }))).toBe(400);
  });

  it('is changed by those who may, and every change stays in its history', async () => {
    const id = await say(lead, project, { text: 'Widen the door', kind: 'action', assignee: { id: designer.id } });
    await changeComment(designer, project, id, { status: 'in-work' });
    await changeComment(lead, project, id, { text: 'Widen the door to 900 mm', dueOn: '2026-12-01' });
    await changeComment(lead, project, id, { status: 'closed' });
    await changeComment(lead, project, id, { status: 'open' });
    // What changes nothing is no change.
    await changeComment(lead, project, id, { priority: 'normal' });
    expect(await found(id)).toMatchObject({ status: 'reopened', text: 'Widen the door to 900 mm' });
    expect((await found(id))!.editedAt).not.toBeNull();
    expect((await commentHistory(guest, project, id)).map(({ by, changes }) => [by, changes])).toEqual([
      ['Mikko', [{ field: 'Status', from: 'Open', to: 'In work' }]],
      [
        'Ines',
        [
          { field: 'Words', from: 'Widen the door', to: 'Widen the door to 900 mm' },
          { field: 'Due', from: '', to: '2026-12-01' },
        ],
      ],
      ['Ines', [{ field: 'Status', from: 'In work', to: 'Closed' }]],
      ['Ines', [{ field: 'Status', from: 'Closed', to: 'Reopened' }]],
    ]);
  });

  it('is not touched by those who may not', async () => {
    const id = await say(lead, project, { text: 'Mine', kind: 'action', assignee: { id: designer.id } });
    const own = await say(guest, project, { text: 'My words' });
    for (const [actor, comment, change, wanted] of [
      [guest, id, { status: 'closed' }, 403],
      [guest, id, { text: 'Theirs' }, 403],
      [guest, id, { deleted: true }, 403],
      [guest, own, { text: 'My better words' }, 200],
      [guest, own, { kind: 'action' }, 403],
      [looker, own, { text: 'Not mine' }, 403],
      [designer, id, { text: 'Not mine either' }, 403],
      [stranger, id, { status: 'closed' }, 404],
      [guest, own, { deleted: true }, 200],
      [guest, own, { text: 'Gone' }, 404],
    ] as const)
      expect([comment === own, change, await status(changeComment(actor, project, comment, change))]).toEqual([comment === own, change, wanted]); // prettier-ignore
    expect(await found(own)).toBeUndefined();
    expect(await status(changeComment(designer, project, own, { deleted: false }))).toBe(200);
    expect(await status(changeComment(designer, project, own, { deleted: false }))).toBe(404);
    expect((await found(own))!.text).toBe('My better words');
    await changeComment(guest, project, own, { deleted: true });
    const other = await createProject(stranger, 'Other', '');
    expect(await status(changeComment(stranger, other, id, { status: 'closed' }))).toBe(404);
    expect(await status(listAssignees(guest, project))).toBe(403);
    expect((await listAssignees(lead, project)).map(({ name }) => name)).toEqual(['Ines', 'Mikko']);
  });

  it('is told to whoever is to do it, with the picture and a link that opens there', async () => {
    const picture = await sharp({ create: { width: 48, height: 30, channels: 3, background: '#9C3B2E' } }).jpeg().toBuffer(); // prettier-ignore
    const id = await say(lead, project, { text: 'Show <b>how</b>', kind: 'action', assignee: { email: 'Trude@firm.example' }, dueOn: '2026-12-24', picture }); // prettier-ignore
    await mailAssignment(id, {});
    const mail = (await mails()).at(-1)!;
    expect(mail.subject).toMatch(/^Town library: number \d+ is yours to do$/);
    expect(mail.text).toContain('Show <b>how</b>');
    expect(mail.html).not.toContain('<b>how</b>');
    expect(mail.text).toContain(`/projects/${project}/review?comment=${id}`);
    expect(mail.attachments).toHaveLength(1);
    // An address is for those who manage what was said, not for guests.
    expect((await found(id))!.assignee).toEqual({ id: null, name: 'Trude@firm.example', email: 'Trude@firm.example' });
    expect((await found(id, guest))!.assignee!.email).toBeNull();
    await changeComment(lead, project, id, { status: 'closed' });
    const before = (await mails()).length;
    await mailAssignment(id, {});
    expect((await mails()).length).toBe(before);
  });

  it('is on the list of whoever is to do it, what is due first comes first, as long as they are in the project', async () => {
    const list = async () => (await ownActions(designer)).map(({ text, dueOn }) => [text, dueOn]);
    expect(await list()).toEqual([
      ['Widen the door to 900 mm', '2026-12-01'],
      ['Lower the sill', '2026-12-24'],
      ['Mine', null],
    ]);
    await db().delete(members).where(eq(members.userId, designer.id));
    expect(await list()).toEqual([]);
    await addMember(project, designer.id, 'designer');
    expect(await status(ownActions(guest))).toBe(403);
  });

  it('is reminded of once before it is due, and again when the day changes', async () => {
    const day = (days: number) => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);
    await db().update(comments).set({ dueOn: null });
    const id = await say(lead, project, { text: 'Soon', kind: 'action', assignee: { id: designer.id }, dueOn: day(1) });
    await say(lead, project, { text: 'Later', kind: 'action', assignee: { id: designer.id }, dueOn: day(20) });
    await say(lead, project, { text: 'Nobody', kind: 'action', dueOn: day(1) });
    expect([await remindOfActions(), await remindOfActions()]).toEqual([1, 0]);
    await mailAssignment(id, { isReminder: true });
    expect((await mails()).at(-1)!.subject).toContain(`is due on ${day(1)}`);
    await changeComment(lead, project, id, { dueOn: day(0) });
    expect(await remindOfActions()).toBe(1);
  });
});

describe('a change', () => {
  it('is refused where it makes no sense', () => {
    for (const change of [
      {},
      { status: 'done' },
      { kind: 'joke' },
      { dueOn: '2026-02-30' },
      { dueOn: 'tomorrow' },
      { assignee: { email: 'nobody' } },
      { assignee: {} },
      { text: '  ' },
      { text: 'x'.repeat(4001) },
      { number: 5 },
    ])
      expect(commentChangeSchema.validate(change).error, JSON.stringify(change)).toBeDefined();
    expect(commentChangeSchema.validate({ dueOn: '2028-02-29', assignee: null }).error).toBeUndefined();
  });
});

describe('several comments', () => {
  it('are changed together, or none of them where one cannot be', async () => {
    const ids = [await say(lead, project, { text: 'One' }), await say(designer, project, { text: 'Two' })];
    await changeComments(designer, project, ids, {
      status: 'in-work',
      priority: 'high',
      assignee: { id: designer.id },
    });
    for (const id of ids) expect(await found(id)).toMatchObject({ status: 'in-work', priority: 'high', assignee: { id: designer.id } }); // prettier-ignore
    // Words are their author's: neither is changed.
    expect(await status(changeComments(designer, project, ids, { text: 'Other' }))).toBe(403);
    expect((await found(ids[1]!))!.text).toBe('Two');
    const strange = [...ids, '01a22739-823a-77ba-9951-ee53235171c1'];
    expect(await status(changeComments(lead, project, strange, { status: 'closed' }))).toBe(404);
    expect((await found(ids[0]!))!.status).toBe('in-work');
  });

  it('can be changed by two at once, in whatever order they name them', async () => {
    const ids = await Promise.all(Array.from({ length: 6 }, (_, i) => say(lead, project, { text: `Number ${i}` })));
    for (let round = 0; round < 20; round++)
      await Promise.all([
        changeComments(lead, project, ids, { priority: round % 2 ? 'high' : 'low' }),
        changeComments(designer, project, [...ids].reverse(), { status: round % 2 ? 'closed' : 'in-work' }),
      ]);
    for (const id of ids) expect((await found(id))!.priority).toBe('high');
  });
});
