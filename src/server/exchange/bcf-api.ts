import Joi from 'joi';
import { jsonViewpoint, readJsonView, type JsonViewpoint } from '@/core/bcf/json-viewpoint';
import { GUID, OTHER_VIEW } from '@/core/bcf/bcf-topic';
import { queryTopics, QueryError, type TopicQuery } from '@/core/bcf/topic-query';
import { joinedText, kindNamed, priorityNamed, statusNamed, titleOf } from '@/core/bcf/words';
import { viewGuid } from '@/core/bcf/write-bcf';
import {
  COMMENT_KINDS,
  COMMENT_STATUSES,
  KIND_WORDS,
  PRIORITIES,
  PRIORITY_WORDS,
  STATUS_WORDS,
  type Comment,
  type CommentChange,
} from '@/core/project/comment';
import { may } from '@/core/rights';
import { authorise, type Actor } from '../access/access';
import { notFound, Problem } from '../problems';
import { listAssignees } from '../review/assignees';
import { changeComment } from '../review/comment-changes';
import { commentPicture, commentView, listComments, say } from '../review/comments';
import { setView } from '../review/comment-views';
import { takePicture } from '../review/pictures';
import { namedViews } from './named-views';

/** Topics, comments and viewpoints in the words of the BCF-API 3.0 (buildingSMART). */

export interface TopicBody {
  guid?: string;
  topic_type?: string;
  topic_status?: string;
  title: string;
  description?: string;
  priority?: string;
  assigned_to?: string | null;
  due_date?: string | null;
}

const word = Joi.string().allow('', null).max(200);

/** What programs may send of a topic. Fields of the standard that say nothing here are let through and left. */
export const topicSchema = Joi.object<TopicBody>({
  guid: Joi.string().pattern(GUID),
  topic_type: word,
  topic_status: word,
  title: Joi.string().min(1).max(1000).required(),
  description: Joi.string().allow('', null).max(4000),
  priority: word,
  assigned_to: word,
  due_date: Joi.string().isoDate().allow(null),
}).unknown();

export const commentSchema = Joi.object<{ guid?: string; comment: string; viewpoint_guid?: string }>({
  guid: Joi.string().pattern(GUID),
  comment: Joi.string().min(1).max(4000).required(),
  viewpoint_guid: Joi.string().allow(null),
}).unknown();

export const querySchema = Joi.object<TopicQuery>({
  $filter: Joi.string().max(4000),
  $orderby: Joi.string().max(400),
  $top: Joi.number().integer().min(0).max(100_000),
  $skip: Joi.number().integer().min(0),
}).unknown();

export async function listTopics(actor: Actor, projectId: string, query: TopicQuery) {
  const all = await listComments(actor, projectId);
  const mayWrite = await writes(actor, projectId);
  try {
    return queryTopics(
      all.filter(({ replyTo }) => !replyTo).map((comment) => asTopic(comment, mayWrite)),
      query,
    );
  } catch (error) {
    if (error instanceof QueryError) throw new Problem(400, error.message);
    throw error;
  }
}

export async function readTopic(actor: Actor, projectId: string, guid: string) {
  return asTopic((await topicNamed(actor, projectId, guid)).topic, await writes(actor, projectId));
}

export async function makeTopic(actor: Actor, projectId: string, body: TopicBody, key: string | null) {
  const { kind = 'remark', status, assignee, dueOn, priority } = await changeIn(actor, projectId, body);
  const text = joinedText(body.title, body.description ?? '');
  const id = await say(
    actor,
    projectId,
    { text, kind, dueOn, priority, ...(assignee && { assignee }), ...(body.guid && { guid: body.guid }) },
    key,
  );
  if (status && status !== 'open') await changeComment(actor, projectId, id, { status });
  const made = (await listComments(actor, projectId)).find((comment) => comment.id === id);
  return asTopic(made!, true);
}

export async function changeTopic(actor: Actor, projectId: string, guid: string, body: TopicBody) {
  const { topic } = await topicNamed(actor, projectId, guid);
  const change = await changeIn(actor, projectId, body);
  const text = joinedText(body.title, body.description ?? '');
  await changeComment(actor, projectId, topic.id, { ...change, ...(text !== topic.text && { text }) });
  return readTopic(actor, projectId, guid);
}

export async function deleteTopic(actor: Actor, projectId: string, guid: string): Promise<void> {
  const { topic } = await topicNamed(actor, projectId, guid);
  await changeComment(actor, projectId, topic.id, { deleted: true });
}

export async function listTopicComments(actor: Actor, projectId: string, guid: string) {
  const { topic, answers } = await topicNamed(actor, projectId, guid);
  return answers.map((answer) => asComment(answer, topic.guid));
}

export async function readTopicComment(actor: Actor, projectId: string, guid: string, comment: string) {
  const { topic, answer } = await answerNamed(actor, projectId, guid, comment);
  return asComment(answer, topic.guid);
}

export async function makeTopicComment(
  actor: Actor,
  projectId: string,
  guid: string,
  body: { guid?: string; comment: string; viewpoint_guid?: string | null },
  key: string | null,
) {
  const { topic, answers } = await topicNamed(actor, projectId, guid);
  // What only showed something gets its words.
  const shown = answers.find(
    (one) => one.isOwn && one.text === OTHER_VIEW && viewGuid(one.guid) === body.viewpoint_guid,
  );
  if (shown) {
    await changeComment(actor, projectId, shown.id, { text: body.comment });
    return asComment({ ...shown, text: body.comment }, topic.guid);
  }
  const said = { text: body.comment, replyTo: topic.id, ...(body.guid && { guid: body.guid }) };
  const id = await say(actor, projectId, said, key);
  const made = (await listComments(actor, projectId)).find((comment) => comment.id === id);
  return asComment(made!, topic.guid);
}

export async function changeTopicComment(actor: Actor, projectId: string, guid: string, comment: string, text: string) {
  const { topic, answer } = await answerNamed(actor, projectId, guid, comment);
  await changeComment(actor, projectId, answer.id, { text });
  return asComment({ ...answer, text, editedAt: new Date().toISOString() }, topic.guid);
}

export async function deleteTopicComment(
  actor: Actor,
  projectId: string,
  guid: string,
  comment: string,
): Promise<void> {
  const { answer } = await answerNamed(actor, projectId, guid, comment);
  await changeComment(actor, projectId, answer.id, { deleted: true });
}

/** What was seen of a topic: its own view first, then those of its answers. */
export async function listTopicViewpoints(actor: Actor, projectId: string, guid: string): Promise<JsonViewpoint[]> {
  const said = await seenOf(actor, projectId, guid);
  const views = await Promise.all(said.map(async ({ id }) => [id, await commentView(actor, projectId, id)] as const));
  const named = await namedViews(projectId, new Map(views));
  return said.map(({ id, guid: own, hasPicture }, index) => ({
    ...jsonViewpoint(viewGuid(own), named.get(id)!, hasPicture),
    index,
  }));
}

export async function readTopicViewpoint(actor: Actor, projectId: string, guid: string, viewpoint: string) {
  const found = (await listTopicViewpoints(actor, projectId, guid)).find((one) => one.guid === viewpoint);
  if (!found) throw notFound('The viewpoint');
  return found;
}

export async function topicSnapshot(actor: Actor, projectId: string, guid: string, viewpoint: string): Promise<Buffer> {
  const found = (await seenOf(actor, projectId, guid)).find((one) => viewGuid(one.guid) === viewpoint);
  if (!found) throw notFound('The viewpoint');
  return commentPicture(actor, projectId, found.id);
}

/** Gives a topic its viewpoint; where it has one, an answer that only shows another. */
export async function makeTopicViewpoint(actor: Actor, projectId: string, guid: string, body: JsonViewpoint) {
  const { topic } = await topicNamed(actor, projectId, guid);
  const snapshot = body.snapshot?.snapshot_data;
  const picture = snapshot ? await takePicture(Buffer.from(snapshot, 'base64')) : null;
  const view = readJsonView(body, topic.author);
  if (!topic.hasView) await setView(actor, projectId, topic.id, view, picture);
  else await say(actor, projectId, { text: OTHER_VIEW, replyTo: topic.id, view, ...(picture && { picture }) });
  return (await listTopicViewpoints(actor, projectId, guid)).at(-1)!;
}

async function seenOf(actor: Actor, projectId: string, guid: string): Promise<Comment[]> {
  const { topic, answers } = await topicNamed(actor, projectId, guid);
  return [topic, ...answers].filter(({ hasView }) => hasView);
}

/** All words that topics may use, and what this person may do. */
export async function extensionsOf(actor: Actor, projectId: string) {
  const role = await authorise(actor, projectId, 'comment.read');
  const mayWrite = await writes(actor, projectId);
  const people = mayWrite && may(role, 'comment.close') ? await listAssignees(actor, projectId) : [];
  return {
    topic_type: COMMENT_KINDS.map((kind) => KIND_WORDS[kind]),
    topic_status: COMMENT_STATUSES.map((status) => STATUS_WORDS[status]),
    topic_label: [],
    snippet_type: [],
    priority: PRIORITIES.map((priority) => PRIORITY_WORDS[priority]),
    users: people.map(({ name }) => name),
    stage: [],
    project_actions: mayWrite ? ['createTopic'] : [],
    topic_actions: mayWrite ? ['update', 'createComment', 'createViewpoint'] : [],
    comment_actions: mayWrite ? ['update'] : [],
  };
}

async function writes(actor: Actor, projectId: string): Promise<boolean> {
  return authorise(actor, projectId, 'comment.write').then(
    () => true,
    (error: unknown) => {
      if (error instanceof Problem && error.status === 403) return false;
      throw error;
    },
  );
}

function asTopic(comment: Comment, mayWrite: boolean) {
  const { guid, number, text, kind, status, priority, assignee, dueOn, author, createdAt, editedAt } = comment;
  return {
    guid,
    server_assigned_id: String(number),
    topic_type: KIND_WORDS[kind],
    topic_status: STATUS_WORDS[status],
    reference_links: [],
    title: titleOf(text, number),
    priority: PRIORITY_WORDS[priority],
    index: number,
    labels: [],
    creation_date: createdAt,
    creation_author: author,
    modified_date: editedAt,
    modified_author: editedAt ? author : null,
    assigned_to: assignee ? (assignee.email ?? assignee.name) : null,
    stage: null,
    description: text,
    due_date: dueOn ? `${dueOn}T00:00:00.000Z` : null,
    authorization: { topic_actions: mayWrite ? ['update', 'createComment', 'createViewpoint'] : [] },
  };
}

function asComment(answer: Comment, topicGuid: string) {
  const { guid, text, author, createdAt, editedAt, hasView } = answer;
  return {
    guid,
    date: createdAt,
    author,
    comment: text,
    topic_guid: topicGuid,
    viewpoint_guid: hasView ? viewGuid(guid) : null,
    reply_to_comment_guid: null,
    modified_date: editedAt,
    modified_author: editedAt ? author : null,
  };
}

/** What a body says of a comment's details. */
async function changeIn(actor: Actor, projectId: string, body: TopicBody): Promise<CommentChange> {
  const { topic_type, topic_status, priority, assigned_to, due_date } = body;
  return {
    ...(topic_type && { kind: kindNamed(topic_type) }),
    ...(topic_status && { status: statusNamed(topic_status) }),
    ...(priority && { priority: priorityNamed(priority) }),
    ...(due_date !== undefined && { dueOn: due_date && due_date.slice(0, 10) }),
    ...(assigned_to !== undefined && {
      assignee: assigned_to ? await assigneeNamed(actor, projectId, assigned_to) : null,
    }),
  };
}

async function assigneeNamed(
  actor: Actor,
  projectId: string,
  named: string,
): Promise<{ id: string } | { email: string }> {
  const member = (await listAssignees(actor, projectId)).find(({ name }) => name.toLowerCase() === named.toLowerCase());
  if (member) return { id: member.id };
  if (!named.includes('@')) throw new Problem(400, `Nobody in this project is called “${named}”.`);
  return { email: named };
}

async function topicNamed(
  actor: Actor,
  projectId: string,
  guid: string,
): Promise<{ topic: Comment; answers: Comment[] }> {
  const all = await listComments(actor, projectId);
  const topic = all.find((comment) => comment.guid === guid && !comment.replyTo);
  if (!topic) throw notFound('The topic');
  return { topic, answers: all.filter(({ replyTo }) => replyTo === topic.id) };
}

async function answerNamed(actor: Actor, projectId: string, guid: string, comment: string) {
  const { topic, answers } = await topicNamed(actor, projectId, guid);
  const answer = answers.find((one) => one.guid === comment);
  if (!answer) throw notFound('The comment');
  return { topic, answer };
}
