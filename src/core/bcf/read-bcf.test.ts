import fc from 'fast-check';
import { strToU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import type { Comment } from '../project/comment';
import { anyView } from '../view/test-views';
import { readView } from '../view/view-state';
import { compareTopics } from './merge-topic';
import { BcfError, readBcf } from './read-bcf';
import { testComment } from './test-comment';
import { writeBcf } from './write-bcf';

const GUID = '6d8c4b2e-5f0a-4c8a-9a4d-0a1b2c3d4e5f';
const ANSWER = '7d8c4b2e-5f0a-4c8a-9a4d-0a1b2c3d4e5f';
const files = (texts: Record<string, string>) =>
  Object.fromEntries(Object.entries(texts).map(([name, text]) => [name, strToU8(text)]));

/** Written by hand after the published schemas of BCF 2.1: comments and viewpoints stand beside the topic. */
const OLD = {
  'bcf.version': '<?xml version="1.0" encoding="UTF-8"?><Version VersionId="2.1"><DetailedVersion>2.1</DetailedVersion></Version>', // prettier-ignore
  [`${GUID}/markup.bcf`]: `<?xml version="1.0" encoding="UTF-8"?>
<Markup><Header><File IfcProject="0" isExternal="true"><Filename>a.ifc</Filename></File></Header>
<Topic Guid="${GUID.toUpperCase()}" TopicType="Clash" TopicStatus="In Progress">
<Title>Duct through beam</Title><Priority>Critical</Priority><Index>4</Index><Labels>MEP</Labels>
<CreationDate>2026-10-01T09:00:00+02:00</CreationDate><CreationAuthor>pia@tamm.example</CreationAuthor>
<DueDate>2026-10-20T00:00:00Z</DueDate><AssignedTo>mikko@karras.example</AssignedTo>
<Description>The duct crosses &lt;B12&gt; at the hall.</Description></Topic>
<Comment Guid="${ANSWER}"><Date>2026-10-02T08:00:00Z</Date><Author>Mikko</Author><Comment>Lower it.</Comment></Comment>
<Viewpoints Guid="8d8c4b2e-5f0a-4c8a-9a4d-0a1b2c3d4e5f"><Viewpoint>viewpoint.bcfv</Viewpoint><Snapshot>snapshot.png</Snapshot></Viewpoints>
</Markup>`,
  [`${GUID}/viewpoint.bcfv`]: `<?xml version="1.0" encoding="UTF-8"?>
<VisualizationInfo Guid="8d8c4b2e-5f0a-4c8a-9a4d-0a1b2c3d4e5f"><Components><ViewSetupHints SpacesVisible="false"/>
<Selection><Component IfcGuid="0a"/></Selection><Visibility DefaultVisibility="false"><Exceptions><Component IfcGuid="0a"/><Component IfcGuid="0b"/></Exceptions></Visibility>
<Coloring><Color Color="FF3D9C9C"><Component IfcGuid="0a"/><Component IfcGuid="0b"/></Color><Color Color="reddish"><Component IfcGuid="0a"/></Color></Coloring></Components>
<OrthogonalCamera><CameraViewPoint><X>1</X><Y>2</Y><Z>30</Z></CameraViewPoint><CameraDirection><X>0</X><Y>0</Y><Z>-2</Z></CameraDirection><CameraUpVector><X>0</X><Y>1</Y><Z>0</Z></CameraUpVector><ViewToWorldScale>12.5</ViewToWorldScale></OrthogonalCamera>
<Lines><Line><StartPoint><X>0</X><Y>0</Y><Z>0</Z></StartPoint><EndPoint><X>1</X><Y>1</Y><Z>1</Z></EndPoint></Line></Lines>
<ClippingPlanes><ClippingPlane><Location><X>0</X><Y>0</Y><Z>3</Z></Location><Direction><X>0</X><Y>0</Y><Z>5</Z></Direction></ClippingPlane></ClippingPlanes>
</VisualizationInfo>`,
  [`${GUID}/snapshot.png`]: 'picture',
};

/** The same topic by 3.0, with what stands elsewhere there. */
const NEW = {
  'bcf.version': '<Version VersionId="3.0"/>',
  'documents.xml': `<DocumentInfo><Documents><Document Guid="${ANSWER}"><Filename>beam.pdf</Filename></Document></Documents></DocumentInfo>`,
  [`documents/${ANSWER}`]: '%PDF-1.7',
  [`${GUID}/markup.bcf`]: `<Markup><Topic Guid="${GUID}" TopicType="Request" TopicStatus="Done"><Title>Sill</Title>
<CreationDate>2026-10-01T09:00:00Z</CreationDate><CreationAuthor>Pia</CreationAuthor>
<DocumentReferences><DocumentReference Guid="${GUID}"><DocumentGuid>${ANSWER}</DocumentGuid></DocumentReference></DocumentReferences>
<Comments><Comment Guid="${ANSWER}"><Date>2026-10-02T08:00:00Z</Date><Author>Mikko</Author><Comment>Yes.</Comment></Comment></Comments>
<Viewpoints><ViewPoint Guid="${ANSWER}"><Viewpoint>v.bcfv</Viewpoint></ViewPoint></Viewpoints></Topic></Markup>`,
  [`${GUID}/v.bcfv`]: `<VisualizationInfo Guid="${ANSWER}"><Components><Visibility/><Coloring><Color Color="b5483a"><Components><Component IfcGuid="0c"/></Components></Color></Coloring></Components><PerspectiveCamera><CameraViewPoint><X>0</X><Y>0</Y><Z>1.6</Z></CameraViewPoint><CameraDirection><X>1</X><Y>0</Y><Z>0</Z></CameraDirection><CameraUpVector><X>0</X><Y>0</Y><Z>1</Z></CameraUpVector><FieldOfView>55</FieldOfView><AspectRatio>1.5</AspectRatio></PerspectiveCamera></VisualizationInfo>`,
};

const comment = (change: Partial<Comment>) => testComment({ guid: GUID, ...change });

describe('a BCF file that is read', () => {
  it('of version 2.1 gives what was said, in our words, with view and answers', () => {
    const { version, topics, refused } = readBcf(files(OLD));
    expect([version, refused, topics.length]).toEqual(['2.1', [], 1]);
    const [topic] = topics;
    expect(topic).toMatchObject({
      guid: GUID,
      text: 'Duct through beam\nThe duct crosses <B12> at the hall.',
      kind: 'action',
      status: 'in-work',
      priority: 'high',
      assignee: 'mikko@karras.example',
      dueOn: '2026-10-20',
      author: 'pia@tamm.example',
      createdAt: '2026-10-01T07:00:00.000Z',
      replies: [{ guid: ANSWER, text: 'Lower it.', author: 'Mikko' }],
    });
    expect(new TextDecoder().decode(topic!.picture!)).toBe('picture');
    const { camera, selection, visibility, colouring, cuts, marks } = topic!.view!;
    expect(camera.parallel).toBe(true);
    // As high as the file says is what is seen at the target.
    const away = camera.position[2] - camera.target[2];
    expect(2 * away * Math.tan((camera.fov * Math.PI) / 360)).toBeCloseTo(12.5, 6);
    expect(camera.position).toEqual([1, 2, 30]);
    expect(selection).toEqual([[{ is: 'element', guids: ['0a'] }]]);
    expect(visibility.shown).toEqual([{ also: [{ is: 'element', guids: ['0a', '0b'] }] }]);
    expect(colouring).toEqual([{ of: [{ also: [{ is: 'element', guids: ['0a', '0b'] }] }], colour: '#3d9c9c' }]);
    expect(cuts.planes).toMatchObject([{ normal: [0, 0, 1], offset: 3, isOn: true }]);
    expect(marks).toMatchObject([{ kind: 'surface', points: [0, 0, 0, 1, 1, 1], by: { name: 'pia@tamm.example' } }]);
  });

  it('of version 3.0 gives the same from where it stands there, and its documents', () => {
    const [topic] = readBcf(files(NEW)).topics;
    expect(topic).toMatchObject({ text: 'Sill', kind: 'action', status: 'closed', replies: [{ text: 'Yes.' }] });
    expect(topic!.view!.camera).toEqual({ position: [0, 0, 1.6], target: [10, 0, 1.6], fov: 55 });
    expect(topic!.view!.colouring).toEqual([{ of: [{ also: [{ is: 'element', guids: ['0c'] }] }], colour: '#b5483a' }]);
    expect(topic!.documents).toMatchObject([{ id: GUID, comment: GUID, name: 'beam.pdf' }]);
  });

  it('gives answers the viewpoints of which they speak, and those of which nobody speaks as answers', () => {
    const [other, third] = ['9d', 'ad'].map((start) => GUID.replace('6d', start));
    const point = (guid: string, file: string) =>
      `<Viewpoints Guid="${guid}"><Viewpoint>${file}</Viewpoint></Viewpoints>`;
    const markup = OLD[`${GUID}/markup.bcf`]!.replace(
      '<Comment>Lower it.</Comment>',
      `<Comment>Lower it.</Comment><Viewpoint Guid="${other}"/>`,
    ).replace('</Markup>', `${point(other!, 'b.bcfv')}${point(third!, 'b.bcfv')}</Markup>`);
    const seen = NEW[`${GUID}/v.bcfv`]!;
    const [topic] = readBcf(files({ ...OLD, [`${GUID}/markup.bcf`]: markup, [`${GUID}/b.bcfv`]: seen })).topics;
    expect(topic!.view!.camera.parallel).toBe(true);
    expect(topic!.replies.map(({ text, view }) => [text, view?.camera.fov])).toEqual([['Lower it.', 55], ['Another view', 55]]); // prettier-ignore
  });

  it('that is none, of another version, or with an entity of its own is refused with the reason', () => {
    expect(() => readBcf({})).toThrow(BcfError);
    expect(() => readBcf(files({ ...OLD, 'bcf.version': '<Version VersionId="1.0"/>' }))).toThrow(/1\.0/);
    const bomb = `<!DOCTYPE m [<!ENTITY a "b">]>${OLD[`${GUID}/markup.bcf`]!.replace(/<\?.*?\?>/, '')}`;
    const { topics, refused } = readBcf(files({ ...OLD, [`${GUID}/markup.bcf`]: bomb }));
    expect([topics.length, refused[0]?.reason]).toEqual([0, 'it declares a document type']);
  });

  it('loses only the topic that is damaged', () => {
    const other = GUID.replace('6d', '5d');
    const { topics, refused } = readBcf(files({ ...NEW, [`${other}/markup.bcf`]: '<Markup><Topic' }));
    expect([topics.length, refused.map(({ name }) => name)]).toEqual([1, [other]]);
  });

  it('never breaks on damaged bytes other than with a reason', () => {
    const whole = files(NEW);
    fc.assert(
      fc.property(fc.constantFrom(...Object.keys(whole)), fc.nat(), fc.nat(255), (name, at, byte) => {
        const bytes = whole[name]!.slice();
        bytes[at % bytes.length] = byte;
        try {
          readBcf({ ...whole, [name]: bytes });
        } catch (error) {
          expect(error instanceof BcfError || name === 'bcf.version' || name === 'documents.xml').toBe(true);
        }
      }),
      { numRuns: 300 },
    );
  });

  it('that we have written comes back without loss, whatever the view', async () => {
    await fc.assert(
      fc.asyncProperty(anyView, anyView, async (view, seen) => {
        const own = comment({});
        const reply = comment({ id: 'r', guid: ANSWER, number: null, replyTo: own.id, text: 'Yes', author: 'Mikko', hasView: false }); // prettier-ignore
        const documents = [{ id: GUID.replace('6d', '4d'), comment: ANSWER, name: 'a.pdf', content: strToU8('%PDF') }];
        const written = await writeBcf({ id: 'p', name: 'P' }, [{ comment: own, view, replies: [{ comment: reply, view: seen, picture: Uint8Array.of(0xff, 2) }], picture: Uint8Array.of(0x89, 1), documents }]); // prettier-ignore
        const { topics } = readBcf(unzipSync(written));
        const { kind, status, priority, dueOn, text, author, anchor, elementName } = own;
        expect(topics[0]).toMatchObject({
          guid: GUID,
          kind,
          status,
          priority,
          dueOn,
          text,
          author,
          anchor,
          elementName,
        });
        expect(topics[0]!.view).toEqual(readView(view));
        expect(topics[0]!.replies).toMatchObject([
          { guid: ANSWER, text: 'Yes', author: 'Mikko', view: readView(seen), picture: Uint8Array.of(0xff, 2) },
        ]);
        expect(topics[0]!.documents).toMatchObject([{ comment: ANSWER, name: 'a.pdf' }]);
        expect(compareTopics(topics, [own, { ...reply, files: [{ id: documents[0]!.id, name: 'a.pdf', type: '', size: 4, width: null, height: null }] }])).toMatchObject([{ state: 'same' }]); // prettier-ignore
      }),
      { numRuns: 25 },
    );
  });
});

describe('topics compared with what is here', () => {
  it('are new, changed with what would change, or the same', () => {
    const { topics } = readBcf(files(OLD));
    expect(compareTopics(topics, [])).toMatchObject([{ state: 'new', number: null, newReplies: 1, changes: [] }]);
    const [change] = compareTopics(topics, [
      comment({ text: 'Duct through beam\nThe duct crosses <B12> at the hall.', dueOn: '2026-10-20', status: 'open' }),
    ]);
    expect(change).toMatchObject({ state: 'changed', number: 7, newReplies: 1 });
    // An assignee is the same person by address as by name.
    expect(change!.changes).toEqual([{ field: 'Status', from: 'Open', to: 'In work' }]);
  });
});
