import { strToU8, zip, type AsyncZippable } from 'fflate';
import {
  COMMENT_KINDS,
  COMMENT_STATUSES,
  KIND_WORDS,
  PRIORITIES,
  PRIORITY_WORDS,
  STATUS_WORDS,
  type Comment,
} from '../project/comment';
import { EXTENSION_FILE, type BcfDocument, type BcfTopic } from './bcf-topic';
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
    const { comment, picture, view } = topic;
    const folder = comment.guid;
    files[`${folder}/markup.bcf`] = xml(markup(topic));
    if (view) files[`${folder}/viewpoint.bcfv`] = xml(visualizationInfo(viewGuid(comment.guid), view));
    files[`${folder}/${EXTENSION_FILE}`] = strToU8(
      JSON.stringify({
        view,
        anchor: comment.anchor,
        elementName: comment.elementName,
        documents: Object.fromEntries(topic.documents.map((one) => [one.id, one.comment])),
      }),
    );
    // Pictures are packed already.
    if (picture) files[`${folder}/${pictureName(picture)}`] = [picture, { level: 0 }];
  }
  return new Promise((done, failed) => zip(files, (error, data) => (error ? failed(error) : done(data))));
}

function markup({ comment, replies, view, picture, documents }: BcfTopic): XmlNode {
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
        documents.length > 0 ? element('DocumentReferences', documents.map(reference)) : null,
        replies.length > 0 ? element('Comments', replies.map(said)) : null,
        view
          ? element('Viewpoints', [
              element(
                'ViewPoint',
                [
                  element('Viewpoint', 'viewpoint.bcfv'),
                  picture ? element('Snapshot', pictureName(picture)) : null,
                  element('Index', '0'),
                ],
                { Guid: viewGuid(guid) },
              ),
            ])
          : null,
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

function said({ guid, createdAt, author, text, editedAt }: Comment): XmlNode {
  return element(
    'Comment',
    [
      element('Date', createdAt),
      element('Author', author),
      element('Comment', text),
      editedAt ? element('ModifiedDate', editedAt) : null,
      editedAt ? element('ModifiedAuthor', author) : null,
    ],
    { Guid: guid },
  );
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
      ...replies.map(({ author }) => author),
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

function pictureName(picture: Uint8Array): string {
  return picture[0] === 0x89 ? 'snapshot.png' : 'snapshot.jpg';
}

function xml(root: XmlNode): Uint8Array {
  return strToU8(xmlDocument(root));
}
