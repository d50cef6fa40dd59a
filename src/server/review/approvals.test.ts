import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { db } from '@/db/database';
import { approvers, models, revisions } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import { mailbox } from '../../../tests/support/mailbox';
import { actorOf, GUEST_COOKIE, type Actor } from '../access/access';
import { enterByLink } from '../access/links';
import { mailApprover } from '../mail/approvals';
import { addMember, createProject, readProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { testAccount, testGuest } from '../test-people';
import { readFeed } from './activities';
import { answerApproval, askForApproval, endApproval, listApprovals } from './approvals';

const mails = mailbox();
let lead: Actor;
let designer: Actor;
let project: string;
let revisionId: string;

beforeAll(async () => {
  await useOwnDatabase('approvals');
  lead = (await testAccount('Ines')).actor;
  designer = (await testAccount('Mikko')).actor;
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
});
beforeEach(async () => {
  project = await createProject(lead, 'Town library', '');
  await addMember(project, designer.id, 'designer');
  revisionId = await published(project, 2);
});

async function published(projectId: string, number: number): Promise<string> {
  const [id, modelId] = [uuidv7(), uuidv7()];
  await db().insert(models).values({ id: modelId, projectId, name: 'Architecture', discipline: 'Architecture' });
  await db().insert(revisions).values({ id, projectId, modelId, number, state: 'published', fileName: 'a.ifc', fileBytes: 1, authorId: lead.id, publishedAt: new Date() }); // prettier-ignore
  return id;
}

const draft = (change: Partial<Parameters<typeof askForApproval>[2]> = {}) => ({
  revisionId,
  suitability: 'S4' as const,
  question: 'Go on?',
  dueOn: null,
  approvers: [{ id: lead.id }, { id: designer.id }],
  ...change,
});

describe('an approval', () => {
  it('waits for all, and stands where the answers put it', async () => {
    const id = await askForApproval(lead, project, draft());
    const state = async () => (await listApprovals(lead, project))[0]!.state;
    expect(await state()).toBe('waiting');
    await answerApproval(lead, project, id, 'approved', '');
    expect(await state()).toBe('waiting');
    await answerApproval(designer, project, id, 'with-comments', 'Move the column.');
    expect(await state()).toBe('with-comments');
    // Where revisions are listed it is said too, but not to guests.
    const told = async (actor: Actor) => (await readProject(actor, project)).models[0]!.revisions[0]!.approval;
    expect(await told(designer)).toBe('Approved with comments, S4');
    expect(await told((await testGuest(lead, project, 'comment', 'Bo')).actor)).toBeNull();
    await answerApproval(designer, project, id, 'resubmit', 'No.');
    expect(await state()).toBe('resubmit');
    await answerApproval(designer, project, id, 'approved', '');
    expect(await state()).toBe('approved');
    const [approval] = await listApprovals(designer, project);
    expect(approval).toMatchObject({ revision: 'Architecture P02', suitability: 'S4', askedBy: 'Ines' });
    expect(approval!.approvers.map(({ name, isYou, answer }) => [name, isYou, answer])).toEqual([['Ines', false, 'approved'], ['Mikko', true, 'approved']]); // prettier-ignore
    expect((await readFeed(lead, { projectId: project })).map(({ kind }) => kind).filter((kind) => kind.startsWith('approval'))).toHaveLength(5); // prettier-ignore
  });

  it('asks somebody without an account by a link, who answers as themselves and sees nothing else', async () => {
    const id = await askForApproval(
      lead,
      project,
      draft({ approvers: [{ email: 'Bo@council.example' }, { id: designer.id }] }),
    );
    await askForApproval(lead, project, { ...draft(), revisionId: await published(project, 1) });
    const [row] = (await db().select().from(approvers)).filter(({ email }) => email === 'bo@council.example');
    await mailApprover(row!.id);
    const mail = (await mails())[0]!;
    expect(mail.subject).toBe('Town library: Architecture P02 waits for your approval');
    const [, token] = /\/l\/([\w-]+)\?approval=/.exec(mail.text!)!;
    const { secret } = await enterByLink(token!, 'Bo');
    const bo = (await actorOf(new Headers({ cookie: `${GUEST_COOKIE}=${secret}` })))!;
    const seen = await listApprovals(bo, project);
    expect(seen.map((one) => one.id)).toEqual([id]);
    await answerApproval(bo, project, id, 'resubmit', 'The roof is too low.');
    const [, approval] = await listApprovals(lead, project);
    expect(approval!.approvers[0]).toMatchObject({ name: 'Bo', answer: 'resubmit', reasons: 'The roof is too low.' });
    // What is taken back takes the link along.
    await endApproval(lead, project, id);
    expect(await actorOf(new Headers({ cookie: `${GUEST_COOKIE}=${secret}` }))).toBeNull();
  });

  it('is refused to those who may not, without reasons, of what does not stand, and twice', async () => {
    await expect(askForApproval(designer, project, draft())).rejects.toMatchObject({ status: 403 });
    await expect(askForApproval(lead, project, draft({ approvers: [{ id: 'nobody' }] }))).rejects.toMatchObject({
      status: 400,
    });
    const id = await askForApproval(lead, project, draft({ approvers: [{ id: designer.id }] }));
    await expect(askForApproval(lead, project, draft())).rejects.toMatchObject({ status: 409 });
    await expect(answerApproval(lead, project, id, 'approved', '')).rejects.toMatchObject({ status: 403 });
    await expect(answerApproval(designer, project, id, 'resubmit', ' ')).rejects.toMatchObject({ status: 400 });
    const program = { ...designer, token: 'read' } as Actor;
    await expect(answerApproval(program, project, id, 'approved', '')).rejects.toMatchObject({ status: 403 });
    const stranger = (await testAccount('Sunniva')).actor;
    await expect(listApprovals(stranger, project)).rejects.toMatchObject({ status: 404 });
    await endApproval(lead, project, id);
    await expect(answerApproval(designer, project, id, 'approved', '')).rejects.toMatchObject({ status: 409 });
  });

  it('is put up once, however many put it up at once', async () => {
    const outcomes = await Promise.allSettled(Array.from({ length: 8 }, () => askForApproval(lead, project, draft())));
    expect(outcomes.filter((one) => one.status === 'fulfilled')).toHaveLength(1);
  });
});
