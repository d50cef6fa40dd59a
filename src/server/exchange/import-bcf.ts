import { and, eq, inArray, max } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { compareTopics, type BcfPreview } from '@/core/bcf/merge-topic';
import { BcfError, readBcf, type ReadBcf, type ReadReply, type ReadTopic } from '@/core/bcf/read-bcf';
import { MOST_ATTACHMENT_BYTES, MOST_ATTACHMENTS, type Assignee } from '@/core/project/comment';
import { db, type Transaction } from '@/db/database';
import { attachments, comments, members, user } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { Problem } from '../problems';
import { holdProject } from '../projects/hold-project';
import { record } from '../review/activities';
import { applyChange } from '../review/comment-changes';
import { assigneeColumns } from '../review/assignees';
import { asKept } from '../review/attachments';
import { listComments } from '../review/comments';
import { takePicture } from '../review/pictures';
import { unzip } from './unzip';

const LIMITS = { bytes: 400 * 1024 * 1024, entries: 40_000 };

/** Reads a BCF file and says what it would change here. @throws Problem 400 if it cannot be read */
export async function previewBcf(actor: Actor, projectId: string, file: Buffer): Promise<BcfPreview> {
  await authorise(actor, projectId, 'comment.close');
  const { version, topics, refused } = await opened(file);
  return { version, topics: compareTopics(topics, await listComments(actor, projectId)), refused };
}

/**
 * Takes over topics of a BCF file: new ones get the next numbers, known ones become as the file says, with what was in their
 * history; answers and files that are not here are added, none is taken away.
 *
 * @param wanted GUIDs of the topics; null for all
 * @returns how many were new and how many were changed
 */
export async function importBcf(
  actor: Actor,
  projectId: string,
  file: Buffer,
  wanted: readonly string[] | null,
): Promise<{ added: number; changed: number }> {
  await authorise(actor, projectId, 'comment.close');
  const { topics } = await opened(file);
  const chosen = wanted ? topics.filter(({ guid }) => wanted.includes(guid)) : topics;
  const people = await db()
    .select({ id: user.id, name: user.name, email: user.email })
    .from(members)
    .innerJoin(user, eq(user.id, members.userId))
    .where(eq(members.projectId, projectId));
  // Pictures are read before anybody has to wait for this.
  const prepared: Prepared[] = [];
  for (const topic of chosen) prepared.push(await prepare(topic));
  const done = { added: 0, changed: 0 };
  await db().transaction(async (tx) => {
    // Nobody else gets a number meanwhile.
    await holdProject(tx, projectId);
    for (const one of prepared) {
      const outcome = await takeOver(tx, actor, projectId, one, assigneeOf(one.topic.assignee, people));
      if (outcome !== 'same') done[outcome]++;
    }
  });
  await tellProject(projectId, 'comments-changed');
  return done;
}

async function opened(file: Buffer): Promise<ReadBcf> {
  try {
    return readBcf(await unzip(file, LIMITS));
  } catch (error) {
    const reason = error instanceof BcfError ? error.message : `This is not a BCF file that can be read: ${error instanceof Error ? error.message : 'it is damaged'}.`; // prettier-ignore
    throw new Problem(400, reason);
  }
}

function assigneeOf(named: string, people: readonly { id: string; name: string; email: string }[]): Assignee | null {
  if (!named) return null;
  const wanted = named.toLowerCase();
  const member = people.find(({ name, email }) => [name, email].some((one) => one.toLowerCase() === wanted));
  return member ?? { id: null, name: named.slice(0, 200), email: named.includes('@') ? named.slice(0, 200) : null };
}

/** A topic with its picture and files as they are kept. */
interface Prepared {
  topic: ReadTopic;
  picture: Buffer | null;
  replies: (Omit<ReadReply, 'picture'> & { picture: Buffer | null })[];
  files: { id: string; comment: string; name: string; kept: Awaited<ReturnType<typeof asKept>> }[];
}

/** A picture or a file that cannot be read is left out; what was said is not. */
async function prepare(topic: ReadTopic): Promise<Prepared> {
  const orNull = <T>(work: Promise<T>) =>
    work.catch((error: unknown) => {
      if (error instanceof Problem) return null;
      throw error;
    });
  const files: Prepared['files'] = [];
  for (const { id, comment, name, content } of topic.documents.slice(0, MOST_ATTACHMENTS)) {
    const kept = content.length <= MOST_ATTACHMENT_BYTES ? await orNull(asKept(Buffer.from(content))) : null;
    if (kept) files.push({ id, comment, name: name.slice(0, 200), kept });
  }
  const pictured = async (picture: Uint8Array | null) => picture && (await orNull(takePicture(Buffer.from(picture))));
  const replies: Prepared['replies'] = [];
  for (const reply of topic.replies) replies.push({ ...reply, picture: await pictured(reply.picture) });
  return { topic, picture: await pictured(topic.picture), replies, files };
}

async function takeOver(
  tx: Transaction,
  actor: Actor,
  projectId: string,
  { topic, picture, replies, files }: Prepared,
  assignee: Assignee | null,
): Promise<'added' | 'changed' | 'same'> {
  const { guid, text, kind, status, priority, dueOn, view } = topic;
  const [known] = await tx
    .select()
    .from(comments)
    .where(and(eq(comments.projectId, projectId), eq(comments.guid, guid)))
    .for('update');
  const fields = { text, kind, status, priority, dueOn, ...assigneeColumns(assignee) };
  let outcome: 'added' | 'changed' | 'same' = 'same';
  let id: string;
  if (known) {
    id = known.id;
    const next = { ...fields, ...(text !== known.text && { editedAt: new Date() }), deletedAt: null };
    if (await applyChange(tx, known, next, actor)) outcome = 'changed';
  } else {
    id = uuidv7();
    const [last] = await tx
      .select({ number: max(comments.number) })
      .from(comments)
      .where(eq(comments.projectId, projectId));
    await tx.insert(comments).values({
      ...fields,
      id,
      guid,
      projectId,
      number: (last?.number ?? 0) + 1,
      authorName: topic.author.slice(0, 120),
      authorId: '', // nobody here: it can be managed, and nobody changes its words as their own
      guest: false,
      anchor: topic.anchor,
      elementName: topic.elementName,
      view,
      picture,
      createdAt: new Date(topic.createdAt),
      editedAt: topic.editedAt ? new Date(topic.editedAt) : null,
    });
    await record(tx, {
      projectId,
      by: actor,
      kind: 'said',
      subjectId: id,
      text: `${text} (${topic.author}, from a file)`,
    });
    outcome = 'added';
  }
  const added =
    (await addReplies(tx, projectId, id, replies)) + (await addFiles(tx, actor, projectId, topic.guid, files));
  return outcome === 'same' && added > 0 ? 'changed' : outcome;
}

async function addReplies(
  tx: Transaction,
  projectId: string,
  replyTo: string,
  replies: Prepared['replies'],
): Promise<number> {
  if (replies.length === 0) return 0;
  const added = await tx
    .insert(comments)
    .values(
      replies.map(({ guid, text, author, createdAt, editedAt, view, picture }) => ({
        id: uuidv7(),
        guid,
        projectId,
        replyTo,
        number: null,
        text,
        view,
        picture,
        authorName: author.slice(0, 120),
        authorId: '',
        guest: false,
        createdAt: new Date(createdAt),
        editedAt: editedAt ? new Date(editedAt) : null,
      })),
    )
    .onConflictDoNothing()
    .returning({ id: comments.id });
  return added.length;
}

async function addFiles(
  tx: Transaction,
  actor: Actor,
  projectId: string,
  topic: string,
  files: Prepared['files'],
): Promise<number> {
  if (files.length === 0) return 0;
  const targets = await tx
    .select({ id: comments.id, guid: comments.guid })
    .from(comments)
    .where(
      and(
        eq(comments.projectId, projectId),
        inArray(comments.guid, [...new Set([topic, ...files.map(({ comment }) => comment)])]),
      ),
    );
  const idOf = new Map(targets.map(({ id, guid }) => [guid, id]));
  const there = await tx
    .select({ name: attachments.name, commentId: attachments.commentId, id: attachments.id })
    .from(attachments)
    .where(
      inArray(
        attachments.commentId,
        targets.map(({ id }) => id),
      ),
    );
  let added = 0;
  for (const { id, comment, name, kept } of files) {
    const commentId = idOf.get(comment) ?? idOf.get(topic)!;
    if (there.some((file) => file.id === id || (file.commentId === commentId && file.name === name))) continue;
    await tx.insert(attachments).values({ id: uuidv7(), projectId, commentId, name, byId: actor.id, ...kept });
    added++;
  }
  return added;
}
