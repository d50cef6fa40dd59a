import type { Element } from '@xmldom/xmldom';
import { strFromU8 } from 'fflate';
import type { CommentAnchor, CommentKind, CommentStatus, Priority } from '../project/comment';
import { readView, type ViewState } from '../view/view-state';
import { EXTENSION_FILE, GUID, OTHER_VIEW, type BcfDocument } from './bcf-topic';
import { readAnchor } from './read-anchor';
import { readVisualizationInfo } from './read-viewpoint';
import { joinedText, kindNamed, priorityNamed, statusNamed } from './words';
import { attribute, child, children, parseXml, textAt } from './read-xml';

/** What a file says of one thing that was said. */
export interface ReadTopic {
  guid: string;
  text: string;
  kind: CommentKind;
  status: CommentStatus;
  priority: Priority;
  /** Name or address. */
  assignee: string;
  dueOn: string | null;
  author: string;
  /** ISO instants. */
  createdAt: string;
  editedAt: string | null;
  view: ViewState | null;
  anchor: CommentAnchor | null;
  elementName: string;
  /** PNG or JPEG. */
  picture: Uint8Array | null;
  replies: ReadReply[];
  documents: BcfDocument[];
}

/** An answer, maybe with what was seen. */
export interface ReadReply {
  guid: string;
  text: string;
  author: string;
  createdAt: string;
  editedAt: string | null;
  view: ViewState | null;
  picture: Uint8Array | null;
}

export interface ReadBcf {
  version: string;
  topics: ReadTopic[];
  /** Topics that could not be read, with the reason. */
  refused: { name: string; reason: string }[];
}

/** A file that is no BCF file; the message is for the user. */
export class BcfError extends Error {
  override readonly name = 'BcfError';
}

/** As much as a comment holds. */
const MOST_TEXT = 4000;

/**
 * Reads what was said in a BCF file of version 2.1 or 3.0. What cannot be read of it is named and does not keep the rest away.
 *
 * @param files unpacked contents by path
 * @throws BcfError if it is none, or of a version that is not known
 */
export function readBcf(files: Readonly<Record<string, Uint8Array>>): ReadBcf {
  const version = versionOf(files);
  const documents = documentsOf(files);
  const result: ReadBcf = { version, topics: [], refused: [] };
  for (const path of Object.keys(files)
    .filter((one) => /(^|\/)markup\.bcf$/.test(one))
    .sort()) {
    const folder = path.slice(0, -'markup.bcf'.length);
    try {
      result.topics.push(readTopic(files, folder, documents));
    } catch (error) {
      result.refused.push({ name: folder.replace(/\/$/, ''), reason: error instanceof Error ? error.message : String(error) }); // prettier-ignore
    }
  }
  return result;
}

function versionOf(files: Readonly<Record<string, Uint8Array>>): string {
  const file = files['bcf.version'];
  if (!file) throw new BcfError('This is not a BCF file: it does not say its version.');
  const version = attribute(parsed(file), 'VersionId');
  if (!/^(2\.1|3\.0)$/.test(version))
    throw new BcfError(
      `This BCF file is of version ${version || '?'}; versions 2.1 and 3.0 are read. Export it again.`,
    );
  return version;
}

/** Documents of the file by GUID, as 3.0 lists them. */
function documentsOf(files: Readonly<Record<string, Uint8Array>>): Map<string, { name: string; content: Uint8Array }> {
  const list = files['documents.xml'] && child(parsed(files['documents.xml']), 'Documents');
  const found = new Map<string, { name: string; content: Uint8Array }>();
  for (const one of list ? children(list, 'Document') : []) {
    const guid = attribute(one, 'Guid').toLowerCase();
    const name = textAt(one, 'Filename');
    const content = files[`documents/${guid}`] ?? files[`documents/${attribute(one, 'Guid')}`];
    if (GUID.test(guid) && content) found.set(guid, { name: name || guid, content });
  }
  return found;
}

function readTopic(
  files: Readonly<Record<string, Uint8Array>>,
  folder: string,
  documents: ReadonlyMap<string, { name: string; content: Uint8Array }>,
): ReadTopic {
  const markup = parsed(files[`${folder}markup.bcf`]!);
  const topic = child(markup, 'Topic');
  if (!topic) throw new Error('it has no topic');
  const guid = attribute(topic, 'Guid').toLowerCase();
  if (!GUID.test(guid)) throw new Error('its GUID is none');
  const author = textAt(topic, 'CreationAuthor') || 'Unknown';
  const own = extensionOf(files[`${folder}${EXTENSION_FILE}`]);
  const points = viewpointsOf(markup, topic);
  const comments = commentsOf(markup, topic);
  // Elsewhere the first one is what the topic is about, also where a comment speaks of it; ours tell them apart.
  const first = own ? points.find((point) => !comments.some(({ viewpoint }) => viewpoint === point.guid)) : points[0];
  const seen = (point: Point | undefined, by: string, kept: unknown) => {
    const info = point && files[`${folder}${point.file}`];
    const view = kept ? readView(kept) : info ? readVisualizationInfo(parsed(info), by) : null;
    return { view, picture: (point?.snapshot && files[`${folder}${point.snapshot}`]) || null };
  };
  const title = textAt(topic, 'Title');
  const description = textAt(topic, 'Description');
  return {
    guid,
    text: joinedText(title, description),
    kind: kindNamed(attribute(topic, 'TopicType')),
    status: statusNamed(attribute(topic, 'TopicStatus')),
    priority: priorityNamed(textAt(topic, 'Priority')),
    assignee: textAt(topic, 'AssignedTo'),
    dueOn: instant(textAt(topic, 'DueDate'))?.slice(0, 10) ?? null,
    author,
    createdAt: instant(textAt(topic, 'CreationDate')) ?? new Date(0).toISOString(),
    editedAt: instant(textAt(topic, 'ModifiedDate')),
    ...seen(first, author, own?.view),
    anchor: readAnchor(own?.anchor),
    elementName: typeof own?.elementName === 'string' ? own.elementName.slice(0, 300) : '',
    replies: [
      ...comments.map(({ viewpoint, ...reply }) => ({
        ...reply,
        ...seen(
          points.find((point) => point.guid === viewpoint),
          reply.author,
          own?.views?.[reply.guid],
        ),
      })),
      // Views that nobody speaks of are answers without words of their own.
      ...points
        .filter((point) => point !== first && !comments.some(({ viewpoint }) => viewpoint === point.guid))
        .map((point) => ({
          guid: point.guid,
          text: OTHER_VIEW,
          author,
          createdAt: instant(textAt(topic, 'CreationDate')) ?? new Date(0).toISOString(),
          editedAt: null,
          ...seen(point, author, null),
        })),
    ],
    documents: referencesOf(topic).flatMap(({ id, document }): BcfDocument[] => {
      const found = documents.get(document);
      const comment = typeof own?.documents?.[document] === 'string' ? own.documents[document] : guid;
      return found ? [{ id, comment, ...found }] : [];
    }),
  };
}

interface Extension {
  view?: unknown;
  /** Of answers, by GUID. */
  views?: Record<string, unknown>;
  anchor?: unknown;
  elementName?: unknown;
  documents?: Record<string, unknown>;
}

function extensionOf(file: Uint8Array | undefined): Extension | null {
  if (!file) return null;
  try {
    const own: unknown = JSON.parse(strFromU8(file));
    return typeof own === 'object' && own !== null && !Array.isArray(own) ? own : null;
  } catch {
    return null; // damaged: what the standard's own words say is left
  }
}

interface Point {
  guid: string;
  file: string;
  snapshot: string;
  index: number;
}

/** Viewpoints in order: below the topic in 3.0, beside it in 2.1. */
function viewpointsOf(markup: Element, topic: Element): Point[] {
  const list = child(topic, 'Viewpoints');
  const points = list ? children(list, 'ViewPoint') : children(markup, 'Viewpoints');
  return points
    .map((point) => ({
      guid: attribute(point, 'Guid').toLowerCase(),
      file: fileName(textAt(point, 'Viewpoint')),
      snapshot: fileName(textAt(point, 'Snapshot')),
      index: Number(textAt(point, 'Index')) || 0,
    }))
    .filter(({ guid }) => GUID.test(guid))
    .sort((a, b) => a.index - b.index);
}

/** What was answered: below the topic in 3.0, beside it in 2.1. */
function commentsOf(markup: Element, topic: Element): (Omit<ReadReply, 'view' | 'picture'> & { viewpoint: string })[] {
  const list = child(topic, 'Comments');
  const comments = list ? children(list, 'Comment') : children(markup, 'Comment');
  return comments.flatMap((one) => {
    const guid = attribute(one, 'Guid').toLowerCase();
    const text = clipped(textAt(one, 'Comment'));
    if (!GUID.test(guid) || !text) return [];
    return [
      {
        guid,
        text,
        author: textAt(one, 'Author') || 'Unknown',
        createdAt: instant(textAt(one, 'Date')) ?? new Date(0).toISOString(),
        editedAt: instant(textAt(one, 'ModifiedDate')),
        viewpoint: viewpointOf(one),
      },
    ];
  });
}

/** The viewpoint that a comment speaks of; empty for none. */
function viewpointOf(comment: Element): string {
  const point = child(comment, 'Viewpoint');
  return point ? attribute(point, 'Guid').toLowerCase() : '';
}

function referencesOf(topic: Element): { id: string; document: string }[] {
  const list = child(topic, 'DocumentReferences');
  return (list ? children(list, 'DocumentReference') : []).map((one) => ({
    id: attribute(one, 'Guid').toLowerCase(),
    document: textAt(one, 'DocumentGuid').toLowerCase(),
  }));
}

/** A file beside the markup; nothing that leads elsewhere. */
function fileName(path: string): string {
  return path.includes('..') ? '' : path.replace(/^\.?\//, '');
}

function instant(text: string): string | null {
  const at = Date.parse(text);
  return Number.isNaN(at) ? null : new Date(at).toISOString();
}

function clipped(text: string): string {
  return [...text].slice(0, MOST_TEXT).join('');
}

function parsed(file: Uint8Array): Element {
  return parseXml(strFromU8(file).replace(/^\uFEFF/, ''));
}
