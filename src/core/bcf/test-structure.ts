import type { Element } from '@xmldom/xmldom';
import { children } from './read-xml';

/**
 * The structure of BCF 3.0 files, written by hand after the published schemas: of each element the attributes (! must be
 * there) and the elements in it, in their order (? may be missing, * any number).
 */
interface Shape {
  attributes?: string;
  content?: string;
  /** What a text or an attribute has to look like, by name. */
  text?: RegExp;
}

const GUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;
const DATE = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}(\.\d+)?(Z|[+-]\d{2}:\d{2})$/;
const NUMBER = /^-?\d+(\.\d+)?$/;
const POINT = 'X Y Z';

const SHAPES: Record<string, Shape> = {
  Version: { attributes: 'VersionId!' },
  ProjectInfo: { content: 'Project?' },
  Project: { attributes: 'ProjectId!', content: 'Name?' },
  Extensions: { content: 'TopicTypes? TopicStatuses? Priorities? TopicLabels? Users? SnippetTypes? Stages?' },
  TopicTypes: { content: 'TopicType*' },
  TopicStatuses: { content: 'TopicStatus*' },
  Priorities: { content: 'Priority*' },
  TopicLabels: { content: 'TopicLabel*' },
  Users: { content: 'User*' },
  SnippetTypes: { content: 'SnippetType*' },
  Stages: { content: 'Stage*' },
  DocumentInfo: { content: 'Documents?' },
  Documents: { content: 'Document*' },
  Document: { attributes: 'Guid!', content: 'Filename Description?' },
  Markup: { content: 'Header? Topic' },
  Topic: {
    attributes: 'Guid! ServerAssignedId TopicType! TopicStatus!',
    content:
      'ReferenceLinks? Title Priority? Index? Labels? CreationDate CreationAuthor ModifiedDate? ModifiedAuthor? DueDate? AssignedTo? Stage? Description? BimSnippet? DocumentReferences? RelatedTopics? Comments? Viewpoints?',
  },
  DocumentReferences: { content: 'DocumentReference*' },
  DocumentReference: { attributes: 'Guid!', content: 'DocumentGuid? Url? Description?' },
  Comments: { content: 'Comment*' },
  Viewpoints: { content: 'ViewPoint*' },
  ViewPoint: { attributes: 'Guid!', content: 'Viewpoint? Snapshot? Index?' },
  VisualizationInfo: {
    attributes: 'Guid!',
    content: 'Components? OrthogonalCamera? PerspectiveCamera? Lines? ClippingPlanes? Bitmaps?',
  },
  Components: { content: 'Selection? Visibility Coloring?' },
  Selection: { content: 'Component*' },
  Visibility: { attributes: 'DefaultVisibility', content: 'ViewSetupHints? Exceptions?' },
  Exceptions: { content: 'Component*' },
  Coloring: { content: 'Color*' },
  Color: { attributes: 'Color!', content: 'Components' },
  Component: { attributes: 'IfcGuid', content: 'OriginatingSystem? AuthoringToolId?' },
  PerspectiveCamera: { content: 'CameraViewPoint CameraDirection CameraUpVector FieldOfView AspectRatio' },
  OrthogonalCamera: { content: 'CameraViewPoint CameraDirection CameraUpVector ViewToWorldScale AspectRatio' },
  CameraViewPoint: { content: POINT },
  CameraDirection: { content: POINT },
  CameraUpVector: { content: POINT },
  Lines: { content: 'Line*' },
  Line: { content: 'StartPoint EndPoint' },
  StartPoint: { content: POINT },
  EndPoint: { content: POINT },
  ClippingPlanes: { content: 'ClippingPlane*' },
  ClippingPlane: { content: 'Location Direction' },
  Location: { content: POINT },
  Direction: { content: POINT },
};

const TEXTS: Record<string, RegExp> = {
  Guid: GUID,
  DocumentGuid: GUID,
  CreationDate: DATE,
  ModifiedDate: DATE,
  DueDate: DATE,
  Date: DATE,
  X: NUMBER,
  Y: NUMBER,
  Z: NUMBER,
  FieldOfView: NUMBER,
  AspectRatio: NUMBER,
  ViewToWorldScale: NUMBER,
  IfcGuid: /^[0-9A-Za-z_$]{22}$/,
  DefaultVisibility: /^(true|false)$/,
  Index: /^\d+$/,
  Color: /^[0-9A-Fa-f]{6}([0-9A-Fa-f]{2})?$/,
  Title: /\S/,
  CreationAuthor: /\S/,
};

/** In a list of comments an element of that name is one, in one of them it is its text. */
const COMMENT: Shape = {
  attributes: 'Guid!',
  content: 'Date Author Comment? Viewpoint? ModifiedDate? ModifiedAuthor?',
};

/** Of a viewpoint it holds what is selected, shown and coloured; of a colour the elements that have it. */
const COLOURED: Shape = { content: 'Component*' };

/** What of an element is otherwise than the schemas want, as sentences; empty where all is right. */
export function faultsOf(element: Element): string[] {
  const name = element.nodeName;
  const isOneOfComments = name === 'Comment' && element.parentNode?.nodeName === 'Comments';
  const isSpokenOf = name === 'Viewpoint' && element.parentNode?.nodeName === 'Comment';
  const isOfColour = name === 'Components' && element.parentNode?.nodeName === 'Color';
  const shape = isOneOfComments
    ? COMMENT
    : isSpokenOf
      ? { attributes: 'Guid!' }
      : isOfColour
        ? COLOURED
        : (SHAPES[name] ?? {});
  const inner = children(element);
  return [
    ...attributeFaults(element, shape.attributes ?? ''),
    ...contentFaults(name, inner, shape.content),
    ...(inner.length === 0 ? textFaults(name, element.textContent ?? '') : []),
    ...inner.flatMap(faultsOf),
  ];
}

function attributeFaults(element: Element, wanted: string): string[] {
  const known = new Map(wanted.split(' ').filter(Boolean).map((one) => [one.replace('!', ''), one.endsWith('!')])); // prettier-ignore
  const there = Array.from(element.attributes);
  return [
    ...there.flatMap(({ name, value }) =>
      known.has(name) ? textFaults(name, value) : [`${element.nodeName} has ${name}`],
    ),
    ...[...known].flatMap(([name, isNeeded]) => (isNeeded && !element.getAttribute(name) ? [`${element.nodeName} lacks ${name}`] : [])), // prettier-ignore
  ];
}

function contentFaults(name: string, inner: readonly Element[], wanted: string | undefined): string[] {
  if (wanted === undefined) return inner.length > 0 ? [`${name} has elements in it`] : [];
  const pattern = wanted
    .split(' ')
    .map((one) => (/[?*]$/.test(one) ? `(${one.slice(0, -1)} )${one.at(-1)}` : `(${one} )`))
    .join('');
  const there = inner.map(({ nodeName }) => `${nodeName} `).join('');
  return new RegExp(`^${pattern}$`).test(there) ? [] : [`${name} holds ${there}`];
}

function textFaults(name: string, text: string): string[] {
  const wanted = TEXTS[name];
  return wanted && !wanted.test(text) ? [`${name} is “${text}”`] : [];
}
