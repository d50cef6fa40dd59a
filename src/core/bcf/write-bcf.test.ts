import { DOMParser, type Document, type Element } from '@xmldom/xmldom';
import fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { anyView } from '../view/test-views';
import { INITIAL_VIEW, readView } from '../view/view-state';
import { faultsOf } from './test-structure';
import { testComment } from './test-comment';
import { writeBcf } from './write-bcf';

const TOPIC = '01a22739-823a-77ba-9951-ee53235171c1';
const comment = testComment;
const VIEW = { ...INITIAL_VIEW, camera: { position: [0, -10, 2], target: [0, 0, 2], fov: 50 } } as typeof INITIAL_VIEW;
const ANSWER = '01a22739-823a-77ba-9951-ee53235171c2';
const JPEG = Uint8Array.of(0xff, 0xd8, 1, 2, 3);

async function opened(topics: Parameters<typeof writeBcf>[1]) {
  const files = unzipSync(await writeBcf({ id: 'p', name: 'Town <library>' }, topics));
  const parse = (name: string): Document =>
    new DOMParser({
      onError: (level, message) => {
        throw new Error(`${level}: ${message}`);
      },
    }).parseFromString(strFromU8(files[name]!), 'text/xml');
  return { files, parse };
}
const named = (node: Document | Element, name: string) => Array.from(node.getElementsByTagName(name));
const textOf = (node: Document | Element, name: string) => named(node, name)[0]?.textContent;
const order = (node: Element) => Array.from(node.childNodes).map(({ nodeName }) => nodeName);
const xyz = (node: Element) => ['X', 'Y', 'Z'].map((name) => Number(textOf(node, name)));

describe('a BCF file', () => {
  it('holds version, project, words and a folder a topic, in the order of the standard', async () => {
    const reply = comment({ id: '01a22739-823a-77ba-9951-ee53235171c2', guid: '01a22739-823a-77ba-9951-ee53235171c2', number: null, replyTo: TOPIC, text: 'We do', author: 'Mikko', hasView: false }); // prettier-ignore
    const { files, parse } = await opened([
      {
        comment: comment({}),
        view: VIEW,
        replies: [{ comment: reply, view: null, picture: null }],
        picture: JPEG,
        documents: [],
      },
    ]);
    expect(Object.keys(files).sort()).toEqual(
      [
        `${TOPIC}/markup.bcf`,
        `${TOPIC}/snapshot.jpg`,
        `${TOPIC}/viewpoint.bcfv`,
        `${TOPIC}/yurta.json`,
        'bcf.version',
        'extensions.xml',
        'project.bcfp',
      ].sort(),
    );
    expect(parse('bcf.version').documentElement!.getAttribute('VersionId')).toBe('3.0');
    expect(textOf(parse('project.bcfp'), 'Name')).toBe('Town <library>');
    const [topic] = named(parse(`${TOPIC}/markup.bcf`), 'Topic');
    expect(order(topic!)).toEqual([
      'Title',
      'Priority',
      'Index',
      'CreationDate',
      'CreationAuthor',
      'DueDate',
      'AssignedTo',
      'Description',
      'Comments',
      'Viewpoints',
    ]);
    expect(['Guid', 'TopicType', 'TopicStatus', 'ServerAssignedId'].map((name) => topic!.getAttribute(name))).toEqual([TOPIC, 'Action', 'In work', '7']); // prettier-ignore
    expect([textOf(topic!, 'Title'), textOf(topic!, 'Description')]).toEqual(['Lower the sill', 'Lower the sill\nto 600 mm']); // prettier-ignore
    expect([textOf(topic!, 'AssignedTo'), textOf(topic!, 'DueDate')]).toEqual(['mikko@karras.example', '2026-12-24T00:00:00Z']); // prettier-ignore
    const [answer] = named(topic!, 'Comments').flatMap((list) => named(list, 'Comment'));
    expect([answer!.getAttribute('Guid'), textOf(answer!, 'Author')]).toEqual([reply.id, 'Mikko']);
    const [shown] = named(topic!, 'ViewPoint');
    expect([textOf(shown!, 'Viewpoint'), textOf(shown!, 'Snapshot')]).toEqual(['viewpoint.bcfv', 'snapshot.jpg']);
    expect(parse(`${TOPIC}/viewpoint.bcfv`).documentElement!.getAttribute('Guid')).toBe(shown!.getAttribute('Guid'));
    expect(files[`${TOPIC}/snapshot.jpg`]).toEqual(JPEG);
    // Every word that is used is one of those that the file names.
    const words = named(parse('extensions.xml'), '*').map(({ textContent }) => textContent);
    for (const word of ['Action', 'In work', 'High', 'mikko@karras.example', 'Ines']) expect(words).toContain(word);
  });

  it('says from where one looks, what is selected and hidden, where it is cut, and what was measured', async () => {
    const view = readView({
      ...INITIAL_VIEW,
      camera: { position: [0, -10, 2], target: [0, 0, 2], fov: 50 },
      selection: [[{ is: 'element', guids: ['A'] }]],
      visibility: { shown: [{ also: [] }, { except: [{ is: 'element', guids: ['B', 'C'] }] }], hiddenModels: [] },
      cuts: { planes: [{ id: 'p', normal: [0, 0, 1], offset: 3, thickness: null, middle: [0, 0, 3], isOn: true, isFramed: true }], box: null, whole: [] }, // prettier-ignore
      measures: [{ id: 'm', name: '', kind: 'distance', points: [[0, 0, 0], [0, 0, 3]], normals: [], area: null }], // prettier-ignore
    });
    const { parse } = await opened([{ comment: comment({}), view, replies: [], picture: null, documents: [] }]);
    const info = parse(`${TOPIC}/viewpoint.bcfv`);
    const [camera] = named(info, 'PerspectiveCamera');
    expect(order(camera!)).toEqual(['CameraViewPoint', 'CameraDirection', 'CameraUpVector', 'FieldOfView', 'AspectRatio']); // prettier-ignore
    expect(xyz(named(camera!, 'CameraViewPoint')[0]!)).toEqual([0, -10, 2]);
    expect(xyz(named(camera!, 'CameraDirection')[0]!)).toEqual([0, 1, 0]);
    expect(xyz(named(camera!, 'CameraUpVector')[0]!)).toEqual([0, 0, 1]);
    expect(Number(textOf(camera!, 'FieldOfView'))).toBe(50);
    const guids = (name: string) =>
      named(named(info, name)[0]!, 'Component').map(
        (one) => one.getAttribute('IfcGuid') ?? textOf(one, 'AuthoringToolId'),
      );
    expect([guids('Selection'), guids('Exceptions')]).toEqual([['A'], ['B', 'C']]);
    expect(named(info, 'Visibility')[0]!.getAttribute('DefaultVisibility')).toBe('true');
    const [plane] = named(info, 'ClippingPlane');
    expect(xyz(named(plane!, 'Location')[0]!)).toEqual([0, 0, 3]);
    // What lies in the direction is cut away.
    expect(xyz(named(plane!, 'Direction')[0]!)).toEqual([0, 0, 1]);
    expect([xyz(named(info, 'StartPoint')[0]!), xyz(named(info, 'EndPoint')[0]!)]).toEqual([[0, 0, 0], [0, 0, 3]]); // prettier-ignore
  });

  it('without perspective says how much is seen', async () => {
    const view = readView({ ...INITIAL_VIEW, camera: { position: [0, 0, 20], target: [0, 0, 0], fov: 90, parallel: true } }); // prettier-ignore
    const { parse } = await opened([{ comment: comment({}), view, replies: [], picture: null, documents: [] }]);
    const [camera] = named(parse(`${TOPIC}/viewpoint.bcfv`), 'OrthogonalCamera');
    // Half of 90 degrees reaches as far to the side as it is away.
    expect(Number(textOf(camera!, 'ViewToWorldScale'))).toBeCloseTo(40, 4);
  });

  it('carries any view along without loss, and any text as it was written', async () => {
    await fc.assert(
      fc.asyncProperty(anyView, fc.string({ unit: 'grapheme', maxLength: 60 }), async (view, words) => {
        const text = `x${words}`;
        const reply = comment({ id: ANSWER, guid: ANSWER, number: null, replyTo: TOPIC, text, hasView: false, editedAt: '2026-11-02T10:00:00.000Z' }); // prettier-ignore
        const documents = [{ id: ANSWER, comment: ANSWER, name: text, content: JPEG }];
        const topic = {
          comment: comment({ text }),
          view,
          replies: [{ comment: reply, view, picture: JPEG }],
          picture: JPEG,
          documents,
        };
        const { files, parse } = await opened([topic]);
        for (const name of Object.keys(files).filter((one) => /\.(xml|bcf|bcfv|bcfp|version)$/.test(one)))
          expect(faultsOf(parse(name).documentElement!), name).toEqual([]);
        const kept = JSON.parse(strFromU8(files[`${TOPIC}/yurta.json`]!)) as { view: unknown };
        expect(readView(kept.view)).toEqual(readView(view));
        parse(`${TOPIC}/viewpoint.bcfv`);

        const held = text.replace(/[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]/g, '');
        expect(textOf(parse(`${TOPIC}/markup.bcf`), 'Description')).toBe(held);
      }),
      { numRuns: 40 },
    );
  });
});
