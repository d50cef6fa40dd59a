import { strToU8, zip, type AsyncZippable } from 'fflate';
import {
  COMMENT_KINDS,
  COMMENT_STATUSES,
  KIND_WORDS,
  PRIORITIES,
  PRIORITY_WORDS,
  STATUS_WORDS,
} from '../project/comment';
import { EXTENSION_FILE, type BcfDocument, type BcfSaid, type BcfTopic } from './bcf-topic';
import { isPng } from '../picture-format';
import { titleOf } from './words';
import { visualizationInfo } from './write-viewpoint';
import { element, xmlDocument, type XmlNode } from './xml';

/**
 * Comments as a BCF 3.0 file (buildingSMART): one topic each, with its answers, view and picture. What BCF has no word for
 * goes along in a file of each topic.
 */
export function writeBcf(project: { id: string; name: string }, topics: readonly BcfTopic[]): Promise<Uint8Array> {
  const files: AsyncZippable = {
    'bcf.version': xml(element('Version', [], { VersionId: '3.0' })),
    'project.bcfp': xml(
      element('ProjectInfo', [element('Project', [element('Name', project.name)], { ProjectId: project.id })]),
    ),
    'extensions.xml': xml(extensions(topics)),
  };
  const documents = topics.flatMap((topic) => topic.documents);
  if (documents.length > 0) files['documents.xml'] = xml(documentInfo(documents));
  // What is packed already is not packed again.
  for (const { id, content } of documents) files[`documents/${id}`] = [content, { level: 0 }];
  for (const topic of topics) {
    const { comment, view } = topic;
    const folder = comment.guid;
    files[`${folder}/markup.bcf`] = xml(markup(topic));
    for (const { said, names } of viewpointsOf(topic)) {
      const seen = said.named ?? said.view;
      if (seen) files[`${folder}/${names.view}`] = xml(visualizationInfo(viewGuid(said.comment.guid), seen));
      // Pictures are packed already.
      if (said.picture) files[`${folder}/${names.picture}`] = [said.picture, { level: 0 }];
    }
    const views = topic.replies.flatMap((reply) => (reply.view ? [[reply.comment.guid, reply.view] as const] : []));
    files[`${folder}/${EXTENSION_FILE}`] = strToU8(
      JSON.stringify({
        view,
        views: Object.fromEntries(views),
        anchor: comment.anchor,
        elementName: comment.elementName,
        documents: Object.fromEntries(topic.documents.map((one) => [one.id, one.comment])),
      }),
    );
  }
  return new Promise((done, failed) => zip(files, (error, data) => (error ? failed(error) : done(data))));
}

function markup(topic: BcfTopic): XmlNode {
  const { comment, replies, documents } = topic;
  const { guid, number, text, kind, status, priority, assignee, dueOn, author, createdAt, editedAt } = comment;
  return element('Markup', [
    element(
      'Topic',
      [
        element('Title', titleOf(text, number)),
        element('Priority', PRIORITY_WORDS[priority]),
        number === null ? null : element('Index', String(number)),
        element('CreationDate', createdAt),
        element('CreationAuthor', author),
        editedAt ? element('ModifiedDate', editedAt) : null,
        editedAt ? element('ModifiedAuthor', author) : null,
        dueOn ? element('DueDate', `${dueOn}T00:00:00Z`) : null,
        assignee ? element('AssignedTo', assignee.email ?? assignee.name) : null,
        element('Description', text),
        many('DocumentReferences', documents.map(reference)),
        many('Comments', replies.map(answer)),
        many(
          'Viewpoints',
          viewpointsOf(topic).map(({ said, names }, i) =>
            element(
              'ViewPoint',
              [
                said.view ? element('Viewpoint', names.view) : null,
                said.picture ? element('Snapshot', names.picture) : null,
                element('Index', String(i)),
              ],
              { Guid: viewGuid(said.comment.guid) },
            ),
          ),
        ),
      ],
      {
        Guid: guid,
        ServerAssignedId: String(number ?? ''),
        TopicType: KIND_WORDS[kind],
        TopicStatus: STATUS_WORDS[status],
      },
    ),
  ]);
}

/** What of a topic was seen or pictured: the topic's own first, then of its answers, each with the names of its files. */
function viewpointsOf(topic: BcfTopic): { said: BcfSaid; names: { view: string; picture: string } }[] {
  return [topic, ...topic.replies]
    .filter(({ view, picture }) => view || picture)
    .map((said) => {
      const own = said === topic ? '' : `-${said.comment.guid}`;
      const ending = said.picture && isPng(said.picture) ? 'png' : 'jpg';
      return { said, names: { view: `viewpoint${own}.bcfv`, picture: `snapshot${own}.${ending}` } };
    });
}

function answer({ comment, view, picture }: BcfSaid): XmlNode {
  const { guid, createdAt, author, text, editedAt } = comment;
  return element(
    'Comment',
    [
      element('Date', createdAt),
      element('Author', author),
      element('Comment', text),
      view || picture ? element('Viewpoint', [], { Guid: viewGuid(guid) }) : null,
      editedAt ? element('ModifiedDate', editedAt) : null,
      editedAt ? element('ModifiedAuthor', author) : null,
    ],
    { Guid: guid },
  );
}

function many(name: string, nodes: readonly XmlNode[]): XmlNode | null {
  return nodes.length > 0 ? element(name, nodes) : null;
}

/** A topic's word for a document of the file. */
function reference({ id, name }: BcfDocument): XmlNode {
  return element('DocumentReference', [element('DocumentGuid', id), element('Description', name)], {
    Guid: viewGuid(id),
  });
}

/** All documents of the file, which lie in it under their GUIDs. */
function documentInfo(documents: readonly BcfDocument[]): XmlNode {
  return element('DocumentInfo', [
    element(
      'Documents',
      documents.map(({ id, name }) => element('Document', [element('Filename', name)], { Guid: id })),
    ),
  ]);
}

/** All words that topics may use, and those who are named. */
function extensions(topics: readonly BcfTopic[]): XmlNode {
  const list = (name: string, one: string, words: readonly string[]) =>
    element(
      name,
      words.map((word) => element(one, word)),
    );
  const users = new Set(
    topics.flatMap(({ comment, replies }) => [
      comment.author,
      ...replies.map((reply) => reply.comment.author),
      ...(comment.assignee ? [comment.assignee.email ?? comment.assignee.name] : []),
    ]),
  );
  return element('Extensions', [
    list(
      'TopicTypes',
      'TopicType',
      COMMENT_KINDS.map((kind) => KIND_WORDS[kind]),
    ),
    list(
      'TopicStatuses',
      'TopicStatus',
      COMMENT_STATUSES.map((status) => STATUS_WORDS[status]),
    ),
    list(
      'Priorities',
      'Priority',
      PRIORITIES.map((priority) => PRIORITY_WORDS[priority]),
    ),
    list('TopicLabels', 'TopicLabel', []),
    list('Users', 'User', [...users]),
    list('SnippetTypes', 'SnippetType', []),
    list('Stages', 'Stage', []),
  ]);
}

/** The view of a topic, and a reference to a document, have GUIDs of their own, which follow from what they belong to. */
export function viewGuid(id: string): string {
  return `${id.slice(0, -1)}${((parseInt(id.slice(-1), 16) + 8) % 16).toString(16)}`;
}

function xml(root: XmlNode): Uint8Array {
  return strToU8(xmlDocument(root));
}
