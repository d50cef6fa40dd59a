import { and, count, eq, getTableColumns, inArray, isNull, lt, max, or } from 'drizzle-orm';
import type { ObjectSchema } from 'joi';
import { v7 as uuidv7 } from 'uuid';
import { mergeFields, type SharedFields } from '@/core/exchange/shared-fields';
import { fromTracker, toTracker, type TrackerIssue } from '@/core/exchange/tracker-issue';
import { trackerChangesSchema, trackerIssueSchema } from '@/core/exchange/tracker-issue-schema';
import type { TrackerSummary } from '@/core/exchange/tracker-summary';
import { answersById, type Assignee } from '@/core/project/comment';
import { db, type Transaction } from '@/db/database';
import { activities, comments, trackedIssues, trackers, user } from '@/db/schema';
import { authorise, requirePerson, type Actor } from '../access/access';
import { seal, unseal } from '../access/seal';
import { tellProject } from '../broadcast';
import { config } from '../config';
import { notFound, Problem } from '../problems';
import { holdProject } from '../projects/hold-project';
import { record } from '../review/activities';
import { assigneeColumns, knownAssignee } from '../review/assignees';
import { applyChange } from '../review/comment-changes';
import { ask, type Outgoing } from './outgoing';

const SEALED = 'tracker';
const LEASE_MS = 60_000;
/** Who has done what comes from there. */
const TRACKER = { id: 'tracker', name: 'Issue tracker' };
const CONFLICT = 412;

type Row = typeof comments.$inferSelect;
/** All of a comment but what is large. */
const { picture: _picture, view: _view, ...COLUMNS } = getTableColumns(comments);
type Said = Omit<Row, 'picture' | 'view'>;
type Tracked = typeof trackedIssues.$inferSelect;

/** The tracker of a project; null without one. */
export async function readTracker(actor: Actor, projectId: string): Promise<TrackerSummary | null> {
  await authorise(actor, projectId, 'exchange.manage');
  const [row] = await db().select().from(trackers).where(eq(trackers.projectId, projectId));
  if (!row) return null;
  const issues = await db()
    .select({ conflict: trackedIssues.conflict })
    .from(trackedIssues)
    .where(eq(trackedIssues.projectId, projectId));
  return {
    url: row.url,
    trouble: row.trouble,
    syncedAt: row.syncedAt?.toISOString() ?? null,
    issues: issues.length,
    conflicts: issues.filter(({ conflict }) => conflict !== null).length,
  };
}

/** Connects a project with a tracker. @throws Problem 409 where that does not answer, or not with this token */
export async function connectTracker(actor: Actor, projectId: string, url: string, token: string): Promise<void> {
  requirePerson(actor);
  await authorise(actor, projectId, 'exchange.manage');
  const address = url.replace(/\/+$/, '');
  try {
    await called({ url: address, token }, '/changes?since=', { method: 'GET' }, trackerChangesSchema);
  } catch (error) {
    throw new Problem(409, `The tracker could not be connected. ${error instanceof Error ? error.message : ''}`);
  }
  await db().transaction(async (tx) => {
    await tx.delete(trackedIssues).where(eq(trackedIssues.projectId, projectId));
    await tx.delete(trackers).where(eq(trackers.projectId, projectId));
    await tx.insert(trackers).values({ projectId, url: address, token: seal(SEALED, token) });
  });
}

/** Lets go of the tracker; what is here and what is there stays as it is. */
export async function disconnectTracker(actor: Actor, projectId: string): Promise<void> {
  await authorise(actor, projectId, 'exchange.manage');
  await db().transaction(async (tx) => {
    await tx.delete(trackedIssues).where(eq(trackedIssues.projectId, projectId));
    await tx.delete(trackers).where(eq(trackers.projectId, projectId));
  });
}

/** Says which side holds where both have changed the same. */
export async function settleConflict(
  actor: Actor,
  projectId: string,
  commentId: string,
  keeps: 'here' | 'there',
): Promise<void> {
  await authorise(actor, projectId, 'comment.close');
  await db().transaction(async (tx) => {
    const [tracked] = await tx
      .select()
      .from(trackedIssues)
      .where(and(eq(trackedIssues.commentId, commentId), eq(trackedIssues.projectId, projectId)))
      .for('update');
    if (!tracked?.conflict) throw notFound('The conflict');
    // What the other side says is agreed on either way: what stands here is then a change of it, and goes there.
    await tx
      .update(trackedIssues)
      .set({ agreed: { ...tracked.agreed, ...tracked.conflict }, conflict: null })
      .where(eq(trackedIssues.commentId, commentId));
    // It is to be told even though nothing else was done.
    await tx.update(trackers).set({ toldCount: -1 }).where(eq(trackers.projectId, projectId));
    if (keeps === 'there') {
      const [row] = await tx.select().from(comments).where(eq(comments.id, commentId)).for('update');
      await applyChange(tx, row!, await asRow(projectId, tracked.conflict), actor);
    }
  });
  await tellProject(projectId, 'comments-changed');
}

/**
 * Brings every project and its tracker to the same, one process a project. Returns how many projects were done.
 *
 * @param leaseMs after so long others take over from a process that has ended; one that works on keeps its lease
 */
export async function syncTrackers(leaseMs = LEASE_MS): Promise<number> {
  const now = new Date();
  const until = () => new Date(Date.now() + leaseMs);
  const taken = await db()
    .update(trackers)
    .set({ leasedUntil: until() })
    .where(or(isNull(trackers.leasedUntil), lt(trackers.leasedUntil, now)))
    .returning();
  const held = new Set(taken.map(({ projectId }) => projectId));
  const renewing = setInterval(() => {
    if (held.size === 0) return;
    // Missed once, the next time is still before the end.
    void db()
      .update(trackers)
      .set({ leasedUntil: until() })
      .where(inArray(trackers.projectId, [...held]))
      .catch((error: unknown) => process.stderr.write(`tracker: ${String(error)}\n`));
  }, leaseMs / 3);
  try {
    for (const tracker of taken) {
      const trouble = await new Sync(tracker).run().then(
        () => '',
        (error: Error) => error.message,
      );
      held.delete(tracker.projectId);
      await db()
        .update(trackers)
        .set({ trouble, leasedUntil: null, ...(trouble === '' && { syncedAt: new Date() }) })
        .where(eq(trackers.projectId, tracker.projectId));
    }
  } finally {
    clearInterval(renewing);
  }
  return taken.length;
}

async function called<T>(
  { url, token }: { url: string; token: string },
  path: string,
  outgoing: Outgoing,
  schema: ObjectSchema<T>,
): Promise<T | typeof CONFLICT> {
  const { status, text } = await ask(`${url}${path}`, {
    ...outgoing,
    headers: { ...outgoing.headers, Authorization: `Bearer ${token}` },
  });
  if (status === CONFLICT) return CONFLICT;
  if (status === 401 || status === 403) throw new Error('The tracker does not take this token.');
  if (status < 200 || status > 299) throw new Error(`The tracker answered ${status}.`);
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new Error('The tracker answered something that is no JSON.');
  }
  const { error, value } = schema.validate(body);
  if (error) throw new Error(`The tracker answered something unexpected: ${error.message}`);
  return value as T;
}

/** One round between a project and its tracker. */
class Sync {
  private readonly projectId: string;
  private readonly access: { url: string; token: string };
  private hasChanged = false;

  constructor(private readonly tracker: typeof trackers.$inferSelect) {
    this.projectId = tracker.projectId;
    this.access = { url: tracker.url, token: unseal(SEALED, tracker.token) };
  }

  async run(): Promise<void> {
    await this.pull();
    await this.push();
    if (this.hasChanged) await tellProject(this.projectId, 'comments-changed');
  }

  private async pull(): Promise<void> {
    const query = new URLSearchParams({ since: this.tracker.cursor });
    const changes = await called(this.access, `/changes?${query}`, { method: 'GET' }, trackerChangesSchema);
    if (changes === CONFLICT) throw new Error('The tracker refuses to tell its changes.');
    for (const issue of changes.issues) await db().transaction((tx) => this.takeIn(tx, issue));
    // Only now: where this process ends before, the same changes come once more, and change nothing twice.
    await db().update(trackers).set({ cursor: changes.cursor }).where(eq(trackers.projectId, this.projectId));
  }

  private async takeIn(tx: Transaction, issue: TrackerIssue): Promise<void> {
    const [tracked] = await tx
      .select()
      .from(trackedIssues)
      .where(and(eq(trackedIssues.projectId, this.projectId), eq(trackedIssues.issueId, issue.id)))
      .for('update');
    if (!tracked) return this.adopt(tx, issue);
    const [row] = await tx.select().from(comments).where(eq(comments.id, tracked.commentId)).for('update');
    if (!row) return;
    const there = fromTracker(issue);
    const here = await sharedOf(row);
    const merged = mergeFields(tracked.agreed, here, there);
    if (await applyChange(tx, row, await asRow(this.projectId, merged.here), TRACKER)) this.hasChanged = true;
    const conflict = Object.keys(merged.conflict).length > 0 ? merged.conflict : null;
    if (JSON.stringify(conflict) !== JSON.stringify(tracked.conflict)) this.hasChanged = true;
    // What only changed here stays different from what is agreed on, and is pushed; so is what is in conflict, once settled.
    await tx
      .update(trackedIssues)
      .set({ agreed: { ...tracked.agreed, ...merged.here, ...sameOf(here, there) }, version: issue.version, conflict })
      .where(eq(trackedIssues.commentId, row.id));
    await this.takeInNotes(tx, row, issue);
  }

  /** An issue that was made there becomes a comment; one that came from here and was not noted is noted now. */
  private async adopt(tx: Transaction, issue: TrackerIssue): Promise<void> {
    const there = fromTracker(issue);
    const guid = GUID_IN_LINK.exec(issue.link)?.[1];
    const [own] = guid
      ? await tx
          .select()
          .from(comments)
          .where(and(eq(comments.projectId, this.projectId), eq(comments.guid, guid)))
          .for('update')
      : [];
    if (own) {
      await this.note(tx, own, issue, there);
      return this.takeInNotes(tx, own, issue);
    }
    if (issue.deleted) return;
    await holdProject(tx, this.projectId);
    const [last] = await tx
      .select({ number: max(comments.number) })
      .from(comments)
      .where(eq(comments.projectId, this.projectId));
    const id = uuidv7();
    const [row] = await tx
      .insert(comments)
      .values({
        id,
        guid: id,
        projectId: this.projectId,
        number: (last?.number ?? 0) + 1,
        text: there.text,
        authorName: TRACKER.name,
        authorId: TRACKER.id,
        guest: false,
        ...(await asRow(this.projectId, there)),
      })
      .returning();
    await record(tx, { projectId: this.projectId, by: TRACKER, kind: 'said', subjectId: id, text: there.text });
    await this.note(tx, row!, issue, there);
    await this.takeInNotes(tx, row!, issue);
    this.hasChanged = true;
  }

  private async note(tx: Transaction, row: Row, issue: TrackerIssue, agreed: SharedFields): Promise<void> {
    await tx
      .insert(trackedIssues)
      .values({ commentId: row.id, projectId: this.projectId, issueId: issue.id, agreed, version: issue.version })
      .onConflictDoNothing();
  }

  private async takeInNotes(tx: Transaction, row: Row, { notes }: TrackerIssue): Promise<void> {
    if (notes.length === 0) return;
    const added = await tx
      .insert(comments)
      .values(
        notes.map(({ key, text, author, at }) => ({
          id: uuidv7(),
          guid: key.toLowerCase(),
          projectId: this.projectId,
          replyTo: row.id,
          text: [...text].slice(0, 4000).join(''),
          authorName: author || TRACKER.name,
          authorId: TRACKER.id,
          guest: false,
          createdAt: new Date(at),
        })),
      )
      .onConflictDoNothing()
      .returning({ id: comments.id, text: comments.text, author: comments.authorName });
    for (const { text, author } of added) {
      await record(tx, { projectId: this.projectId, by: { ...TRACKER, name: author }, kind: 'answered', subjectId: row.id, text }); // prettier-ignore
      this.hasChanged = true;
    }
  }

  /** Tells the tracker what is new or different here. Nothing is read where nothing was done since. */
  private async push(): Promise<void> {
    const [done] = await db().select({ n: count() }).from(activities).where(eq(activities.projectId, this.projectId));
    if (done!.n === this.tracker.toldCount) return;
    const [all, tracked] = await Promise.all([
      db().select(COLUMNS).from(comments).where(eq(comments.projectId, this.projectId)).orderBy(comments.createdAt),
      db().select().from(trackedIssues).where(eq(trackedIssues.projectId, this.projectId)),
    ]);
    const known = new Map(tracked.map((one) => [one.commentId, one]));
    const answers = answersById(all.filter(({ deletedAt }) => deletedAt === null));
    let isWhole = true;
    for (const row of all) {
      if (row.replyTo !== null) continue;
      let one = known.get(row.id) ?? null;
      if (!one && row.deletedAt) continue;
      one = one ? await this.update(row, one) : await this.create(row);
      for (const answer of answers.get(row.id) ?? []) one = one && (await this.tell(one, answer));
      if (!one) isWhole = false;
    }
    if (isWhole) await db().update(trackers).set({ toldCount: done!.n }).where(eq(trackers.projectId, this.projectId));
  }

  private async create(row: Said): Promise<Tracked | null> {
    const fields = await sharedOf(row);
    const link = `${config().publicUrl}/projects/${this.projectId}/review?comment=${row.id}#${row.guid}`;
    const body = JSON.stringify({ ...toTracker(fields), link });
    const issue = await this.write('POST', '/issues', body, { 'Idempotency-Key': row.guid });
    if (issue === CONFLICT) return null;
    const [made] = await db()
      .insert(trackedIssues)
      .values({
        commentId: row.id,
        projectId: this.projectId,
        issueId: issue.id,
        agreed: fromTracker(issue),
        version: issue.version,
      }) // prettier-ignore
      .onConflictDoNothing()
      .returning();
    return made ?? null;
  }

  /**
   * Tells the tracker what has changed here since both agreed. Returns null where it has changed meanwhile: that is merged in
   * the next round.
   */
  private async update(row: Said, one: Tracked): Promise<Tracked | null> {
    const here = await sharedOf(row);
    const changed = Object.fromEntries(
      Object.entries(here).filter(
        ([field, value]) =>
          one.agreed[field as keyof SharedFields] !== value && !(one.conflict && field in one.conflict),
      ),
    ) as Partial<SharedFields>;
    if (Object.keys(changed).length === 0) return one;
    const issue = await this.write('PATCH', `/issues/${encodeURIComponent(one.issueId)}`, JSON.stringify(toTracker(changed)), { 'If-Match': String(one.version) }); // prettier-ignore
    return issue === CONFLICT
      ? null
      : this.keep(one, { agreed: { ...one.agreed, ...changed }, version: issue.version });
  }

  private async tell(one: Tracked, answer: Said): Promise<Tracked | null> {
    if (answer.authorId === TRACKER.id || one.notes.includes(answer.guid)) return one;
    const { guid: key, text, authorName: author, createdAt: at } = answer;
    const body = JSON.stringify({ key, text, author, at });
    const issue = await this.write('POST', `/issues/${encodeURIComponent(one.issueId)}/notes`, body, {});
    return issue === CONFLICT ? null : this.keep(one, { notes: [...one.notes, key], version: issue.version });
  }

  private async keep(one: Tracked, change: Partial<Tracked>): Promise<Tracked> {
    await db().update(trackedIssues).set(change).where(eq(trackedIssues.commentId, one.commentId));
    return { ...one, ...change };
  }

  private write(method: 'POST' | 'PATCH', path: string, body: string, headers: Record<string, string>) {
    return called(this.access, path, { method, body, headers }, trackerIssueSchema);
  }
}

/** GUIDs of our own comments stand at the end of the addresses that issues carry. */
const GUID_IN_LINK = /#([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})$/;

/** What a comment shares with an issue. */
async function sharedOf(row: Said): Promise<SharedFields> {
  const { text, kind, status, dueOn, priority, deletedAt, assigneeId, assigneeEmail, assigneeName } = row;
  const [member] = assigneeId ? await db().select({ email: user.email }).from(user).where(eq(user.id, assigneeId)) : [];
  return {
    text,
    kind,
    status,
    assignee: member?.email ?? assigneeEmail ?? assigneeName,
    dueOn: dueOn ?? '',
    priority,
    deleted: deletedAt !== null,
  };
}

/** Shared fields as they are stored with a comment. */
async function asRow(projectId: string, fields: Partial<SharedFields>): Promise<Partial<Row>> {
  const { text, kind, status, assignee, dueOn, priority, deleted } = fields;
  return {
    ...(text !== undefined && { text, editedAt: new Date() }),
    ...(kind !== undefined && { kind }),
    ...(status !== undefined && { status }),
    ...(assignee !== undefined && assigneeColumns(await assigneeOf(projectId, assignee))),
    ...(dueOn !== undefined && { dueOn: dueOn || null }),
    ...(priority !== undefined && { priority }),
    ...(deleted !== undefined && { deletedAt: deleted ? new Date() : null }),
  };
}

async function assigneeOf(projectId: string, named: string): Promise<Assignee | null> {
  if (!named) return null;
  return named.includes('@') ? knownAssignee(projectId, { email: named }) : { id: null, name: named, email: null };
}

/** Fields on which both sides say the same already. */
function sameOf(here: SharedFields, there: SharedFields): Partial<SharedFields> {
  return Object.fromEntries(
    Object.entries(here).filter(([field, value]) => there[field as keyof SharedFields] === value),
  ) as Partial<SharedFields>;
}
