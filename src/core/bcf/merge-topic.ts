import type { Comment } from '../project/comment';
import { KIND_WORDS, PRIORITY_WORDS, STATUS_WORDS } from '../project/comment';
import type { ReadBcf, ReadTopic } from './read-bcf';

/** What a topic of a file would change here. */
export interface TopicChange {
  guid: string;
  /** Its number here; null where it is new. */
  number: number | null;
  text: string;
  author: string;
  hasPicture: boolean;
  hasView: boolean;
  /** By field what stands here and what the file says; empty for a new one. */
  changes: { field: string; from: string; to: string }[];
  /** Answers and files that are not here yet. */
  newReplies: number;
  newFiles: number;
  state: 'new' | 'changed' | 'same';
}

/** What a file would change, before anything is. */
export interface BcfPreview {
  version: string;
  topics: TopicChange[];
  refused: ReadBcf['refused'];
}

/** Compares topics with what is here, by GUID. @param all comments and answers of the project */
export function compareTopics(topics: readonly ReadTopic[], all: readonly Comment[]): TopicChange[] {
  const known = new Map(all.map((comment) => [comment.guid, comment]));
  // A file that came from here comes back under its id, one that was brought in before under its name.
  const filesOf = (guids: readonly string[]) =>
    new Set(guids.flatMap((guid) => known.get(guid)?.files.flatMap(({ id, name }) => [id, name]) ?? []));
  return topics.map((topic) => {
    const { guid, text, author, picture, view, replies, documents } = topic;
    const here = known.get(guid);
    const changes = here ? changesOf(here, topic) : [];
    const files = filesOf([guid, ...replies.map((reply) => reply.guid)]);
    const newReplies = replies.filter((reply) => !known.has(reply.guid)).length;
    const newFiles = documents.filter(({ id, name }) => !files.has(id) && !files.has(name)).length;
    return {
      guid,
      number: here?.number ?? null,
      text,
      author,
      hasPicture: picture !== null,
      hasView: view !== null,
      changes,
      newReplies,
      newFiles,
      state: !here ? 'new' : changes.length + newReplies + newFiles > 0 ? 'changed' : 'same',
    };
  });
}

function changesOf(here: Comment, topic: ReadTopic): TopicChange['changes'] {
  const fields: [string, string, string][] = [
    ['Words', here.text, topic.text],
    ['Kind', KIND_WORDS[here.kind], KIND_WORDS[topic.kind]],
    ['Status', STATUS_WORDS[here.status], STATUS_WORDS[topic.status]],
    ['Assignee', here.assignee?.name ?? '', isSamePerson(here, topic.assignee) ? (here.assignee?.name ?? '') : topic.assignee], // prettier-ignore
    ['Due', here.dueOn ?? '', topic.dueOn ?? ''],
    ['Priority', PRIORITY_WORDS[here.priority], PRIORITY_WORDS[topic.priority]],
  ];
  return fields.flatMap(([field, from, to]) => (from === to ? [] : [{ field, from, to }]));
}

/** A file names somebody by name or by address. */
function isSamePerson({ assignee }: Comment, named: string): boolean {
  if (!assignee) return named === '';
  return [assignee.name, assignee.email].some((one) => one?.toLowerCase() === named.toLowerCase());
}
