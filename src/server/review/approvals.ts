import { and, asc, desc, eq, inArray, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import {
  ANSWER_WORDS,
  approvalState,
  SUITABILITY_WORDS,
  type Approval,
  type ApprovalAnswer,
  type Suitability,
} from '@/core/project/approval';
import { revisionCode } from '@/core/revision-code';
import { may } from '@/core/rights';
import { db } from '@/db/database';
import { approvals, approvers, links, members, models, projects, revisions, user } from '@/db/schema';
import { authorise, requirePerson, requireUser, type Actor } from '../access/access';
import { guestLink, linkForAddress } from '../access/links';
import { tellProject } from '../broadcast';
import { config } from '../config';
import { forbidden, notFound, Problem } from '../problems';
import { enqueueMail } from '../publishing/queue';
import { record } from './activities';

export interface ApprovalDraft {
  revisionId: string;
  suitability: Suitability | null;
  question: string;
  dueOn: string | null;
  /** Accounts of members, and addresses of others. */
  approvers: ({ id: string } | { email: string })[];
}

/**
 * Puts a published revision up for approval by named people; each is asked by mail, who has no account with a link.
 *
 * @throws Problem 400 for an account that is not in the project, 404, 409 for a revision that does not stand or is put up already
 */
export async function askForApproval(actor: Actor, projectId: string, draft: ApprovalDraft): Promise<string> {
  requireUser(actor);
  await authorise(actor, projectId, 'approval.ask');
  const people = await db()
    .select({ id: user.id, name: user.name, email: user.email })
    .from(members)
    .innerJoin(user, eq(user.id, members.userId))
    .where(eq(members.projectId, projectId));
  const asked = draft.approvers.map((one) => {
    const member = people.find((person) =>
      'id' in one ? person.id === one.id : person.email.toLowerCase() === one.email.toLowerCase(),
    );
    if (member) return { userId: member.id, name: member.name, email: member.email };
    if ('id' in one) throw new Problem(400, 'One of them is not a member of this project. Choose another person.');
    return { userId: null, name: one.email, email: one.email.toLowerCase() };
  });
  const id = uuidv7();
  const rows = [...new Map(asked.map((one) => [one.email, one])).values()].map((one) => ({
    ...one,
    id: uuidv7(),
    approvalId: id,
  }));
  await db().transaction(async (tx) => {
    const [found] = await tx
      .select({ revision: revisions, model: models.name })
      .from(revisions)
      .innerJoin(models, eq(models.id, revisions.modelId))
      .where(and(eq(revisions.id, draft.revisionId), eq(revisions.projectId, projectId)))
      .for('update', { of: revisions });
    if (!found) throw notFound('The revision');
    if (found.revision.state !== 'published' || found.revision.withdrawnAt)
      throw new Problem(409, 'Only a revision that is published can be put up for approval.');
    const [open] = await tx
      .select({ id: approvals.id })
      .from(approvals)
      .where(and(eq(approvals.revisionId, draft.revisionId), isNull(approvals.endedAt)));
    if (open) throw new Problem(409, 'This revision is put up for approval already. Take that back first.');
    const { approvers: _, ...about } = draft;
    await tx.insert(approvals).values({ ...about, id, projectId, askedById: actor.id, askedByName: actor.name });
    await tx.insert(approvers).values(rows);
    const text = `${found.model} ${revisionCode(found.revision.number!)}`;
    await record(tx, { projectId, by: actor, kind: 'approval-asked', subjectId: id, text });
  });
  for (const row of rows) await enqueueMail({ approver: row.id }, 0, `approver ${row.id}`);
  await tellProject(projectId, 'approvals-changed');
  return id;
}

/** What a mail to somebody who is asked needs; null where they have answered, or nothing is asked any more. */
export async function approverMail(approverId: string) {
  const [row] = await db()
    .select({
      approver: approvers,
      approval: approvals,
      project: projects.name,
      model: models.name,
      number: revisions.number,
    })
    .from(approvers)
    .innerJoin(approvals, eq(approvals.id, approvers.approvalId))
    .innerJoin(projects, eq(projects.id, approvals.projectId))
    .innerJoin(revisions, eq(revisions.id, approvals.revisionId))
    .innerJoin(models, eq(models.id, revisions.modelId))
    .where(eq(approvers.id, approverId));
  if (!row || row.approval.endedAt || row.approver.answer) return null;
  const { approver, approval, project, model, number } = row;
  // Whoever asks for approval may manage links.
  const link =
    approver.userId === null
      ? await linkForAddress(approval.projectId, approval.askedById, approver.email, `approval=${approval.id}`)
      : null;
  if (link) await db().update(approvers).set({ linkId: link.id }).where(eq(approvers.id, approver.id));
  const { suitability, question, dueOn, askedByName } = approval;
  return {
    to: approver.email,
    project,
    revision: `${model} ${revisionCode(number!)}`,
    askedBy: askedByName,
    question,
    dueOn,
    purpose: suitability && `${SUITABILITY_WORDS[suitability]} (${suitability})`,
    url: link?.url ?? `${config().publicUrl}/projects/${approval.projectId}/approvals`,
    linkId: link?.id ?? null,
  };
}

/** The approvals of a project, newest first: all for members, for a guest those that they are asked for. */
export async function listApprovals(actor: Actor, projectId: string): Promise<Approval[]> {
  const role = await authorise(actor, projectId, 'project.read');
  const seesAll = may(role, 'minutes.read') && actor.kind === 'user';
  const link = await guestLink(actor);
  const all = await approvalsOf(projectId, (one) => ({
    isYou: isApprover(actor, one, link),
    isNamed: one.userId !== null || actor.kind === 'user' || one.linkId === link,
  }));
  return all.filter((approval) => seesAll || approval.approvers.some(({ isYou }) => isYou));
}

/**
 * The same, whoever asks.
 *
 * @param seenBy what whoever asks is to one of those who are asked, and whether they hear the name
 */
export async function approvalsOf(
  projectId: string,
  seenBy: (one: typeof approvers.$inferSelect) => { isYou: boolean; isNamed: boolean } = () => ({
    isYou: false,
    isNamed: true,
  }),
): Promise<Approval[]> {
  const rows = await db()
    .select({ approval: approvals, model: models.name, number: revisions.number, note: revisions.note })
    .from(approvals)
    .innerJoin(revisions, eq(revisions.id, approvals.revisionId))
    .innerJoin(models, eq(models.id, revisions.modelId))
    .where(eq(approvals.projectId, projectId))
    .orderBy(desc(approvals.createdAt));
  if (rows.length === 0) return [];
  const asked = await db()
    .select()
    .from(approvers)
    .where(
      inArray(
        approvers.approvalId,
        rows.map(({ approval }) => approval.id),
      ),
    )
    .orderBy(asc(approvers.id));
  return rows.map(({ approval, model, number, note }): Approval => {
    const own = asked.filter(({ approvalId }) => approvalId === approval.id);
    const { id, revisionId, suitability, question, dueOn, askedByName, createdAt, endedAt } = approval;
    return {
      id,
      projectId,
      revisionId,
      revision: `${model} ${revisionCode(number!)}`,
      note,
      suitability,
      question,
      dueOn,
      askedBy: askedByName,
      createdAt: createdAt.toISOString(),
      state: approvalState(
        own.map(({ answer }) => answer),
        endedAt !== null,
      ),
      approvers: own.map((one) => ({
        id: one.id,
        name: seenBy(one).isNamed ? one.name : 'Somebody else',
        isYou: seenBy(one).isYou,
        answer: one.answer,
        reasons: one.reasons,
        answeredAt: one.answeredAt?.toISOString() ?? null,
      })),
    };
  });
}

/**
 * Answers as one of those who are asked; until all is decided an answer can be changed.
 *
 * @throws Problem 400 where reasons are missing, 403 for who is not asked, 404, 409 for what was taken back
 */
export async function answerApproval(
  actor: Actor,
  projectId: string,
  approvalId: string,
  answer: ApprovalAnswer,
  reasons: string,
): Promise<void> {
  await authorise(actor, projectId, 'project.read');
  // A person stands for an approval, not a program with their token.
  if (actor.kind === 'user') requirePerson(actor);
  if (answer !== 'approved' && !reasons.trim()) throw new Problem(400, 'Say what is to be changed, so that it can be.');
  const link = await guestLink(actor);
  await db().transaction(async (tx) => {
    const [approval] = await tx
      .select()
      .from(approvals)
      .where(and(eq(approvals.id, approvalId), eq(approvals.projectId, projectId)))
      .for('update');
    if (!approval) throw notFound('What is to be approved');
    const asked = await tx.select().from(approvers).where(eq(approvers.approvalId, approvalId));
    const own = asked.find((one) => isApprover(actor, one, link));
    if (!own) throw forbidden();
    if (approval.endedAt) throw new Problem(409, 'This is not to be approved any more: it was taken back.');
    await tx
      .update(approvers)
      .set({
        answer,
        reasons: reasons.trim(),
        answeredAt: new Date(),
        ...(own.userId === null && { name: actor.name }),
      })
      .where(eq(approvers.id, own.id));
    const [about] = await tx
      .select({ model: models.name, number: revisions.number })
      .from(revisions)
      .innerJoin(models, eq(models.id, revisions.modelId))
      .where(eq(revisions.id, approval.revisionId));
    const text = `${about!.model} ${revisionCode(about!.number!)}: ${ANSWER_WORDS[answer].toLowerCase()}${reasons.trim() ? `, ${reasons.trim()}` : ''}`;
    await record(tx, { projectId, by: actor, kind: 'approval-answered', subjectId: approvalId, text });
  });
  await tellProject(projectId, 'approvals-changed');
}

/** Takes back what was put up; answers stay, links that were sent for it are withdrawn. */
export async function endApproval(actor: Actor, projectId: string, approvalId: string): Promise<void> {
  await authorise(actor, projectId, 'approval.ask');
  await db().transaction(async (tx) => {
    const ended = await tx
      .update(approvals)
      .set({ endedAt: new Date() })
      .where(and(eq(approvals.id, approvalId), eq(approvals.projectId, projectId), isNull(approvals.endedAt)))
      .returning({ id: approvals.id });
    if (ended.length === 0) throw notFound('What is to be approved');
    const sent = await tx.select({ id: approvers.linkId }).from(approvers).where(eq(approvers.approvalId, approvalId));
    const ids = sent.flatMap(({ id }) => id ?? []);
    if (ids.length > 0) await tx.update(links).set({ revokedAt: new Date() }).where(inArray(links.id, ids));
  });
  await tellProject(projectId, 'access-changed');
  await tellProject(projectId, 'approvals-changed');
}

/** An account answers for itself; a guest for the address to which their link was sent. */
function isApprover(actor: Actor, one: typeof approvers.$inferSelect, link: string | null): boolean {
  return actor.kind === 'user' ? one.userId === actor.id : one.linkId !== null && one.linkId === link;
}
