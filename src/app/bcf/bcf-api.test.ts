import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeConnection } from '@/db/database';
import { addMember, createProject } from '@/server/projects/projects';
import { queue } from '@/server/publishing/queue';
import { listComments } from '@/server/review/comments';
import { createToken } from '@/server/access/tokens';
import { testAccount, type TestPerson } from '@/server/test-people';
import { GET as versions } from '../foundation/versions/route';
import { GET as currentUser } from '../foundation/1.1/current-user/route';
import { GET as projects } from './3.0/projects/route';
import { GET as extensions } from './3.0/projects/[id]/extensions/route';
import { GET as topics, POST as makeTopic } from './3.0/projects/[id]/topics/route';
import { DELETE as deleteTopic, GET as topic, PUT as changeTopic } from './3.0/projects/[id]/topics/[topic]/route';
import { GET as comments, POST as makeComment } from './3.0/projects/[id]/topics/[topic]/comments/route';
import { PUT as changeComment } from './3.0/projects/[id]/topics/[topic]/comments/[comment]/route';
import { GET as viewpoints, POST as makeViewpoint } from './3.0/projects/[id]/topics/[topic]/viewpoints/route';
import { GET as coloring } from './3.0/projects/[id]/topics/[topic]/viewpoints/[viewpoint]/coloring/route';
import { GET as snapshot } from './3.0/projects/[id]/topics/[topic]/viewpoints/[viewpoint]/snapshot/route';

type Route = (request: Request, context: { params: Promise<Record<string, string> | undefined> }) => Promise<Response>;

let lead: TestPerson;
let project: string;
const tokens = {} as Record<'read' | 'comment', string>;
beforeAll(async () => {
  lead = await testAccount('Ines');
  project = await createProject(lead.actor, 'Town library', '');
  const mikko = await testAccount('Mikko');
  await addMember(project, mikko.actor.id, 'designer');
  for (const right of ['read', 'comment'] as const) tokens[right] = (await createToken(lead.actor, right, right)).token;
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
  await closeConnection();
});

async function call<T>(
  route: Route,
  params: Record<string, string>,
  body?: unknown,
  { right = 'comment' as 'read' | 'comment' | null, query = '' } = {},
) {
  const request = new Request(`http://localhost/bcf${query}`, {
    method: body === undefined ? 'GET' : 'POST',
    headers: right ? { authorization: `Bearer ${tokens[right]}` } : {},
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  const answer = await route(request, { params: Promise.resolve({ id: project, ...params }) });
  const text = await answer.clone().text();
  return { status: answer.status, answer, body: (answer.headers.get('content-type')?.includes('json') ? JSON.parse(text) : text) as T }; // prettier-ignore
}

interface Topic {
  guid: string;
  title: string;
  topic_status: string;
  index: number;
}

const GUID = '6d8c4b2e-5f0a-4c8a-9a4d-0a1b2c3d4e5f';

describe('the BCF-API', () => {
  it('says what it speaks, who asks, and which projects and words there are', async () => {
    expect(((await versions().json()) as { versions: { api_id: string; version_id: string }[] }).versions).toMatchObject([{ api_id: 'foundation' }, { api_id: 'bcf', version_id: '3.0' }]); // prettier-ignore
    expect((await call<{ name: string }>(currentUser, {})).body.name).toBe('Ines');
    expect((await call(projects, {})).body).toEqual([{ project_id: project, name: 'Town library' }]);
    const words = (await call<{ topic_status: string[]; users: string[]; project_actions: string[] }>(extensions, {}))
      .body;
    expect(words.topic_status).toContain('In work');
    expect(words.users).toEqual(['Ines', 'Mikko']);
    expect((await call<typeof words>(extensions, {}, undefined, { right: 'read' })).body.project_actions).toEqual([]);
  });

  it('makes a topic under its own GUID, reads, changes and deletes it', async () => {
    const made = await call<Topic>(makeTopic, {}, { guid: GUID, title: 'Sill', description: 'Sill is too high', topic_type: 'Clash', topic_status: 'In work', priority: 'Critical', assigned_to: 'Mikko', due_date: '2026-12-24T00:00:00Z', labels: ['x'] }); // prettier-ignore
    expect([made.status, made.body]).toMatchObject([201, { guid: GUID, title: 'Sill is too high', topic_status: 'In work', index: 1, description: 'Sill is too high' }]); // prettier-ignore
    expect((await listComments(lead.actor, project))[0]).toMatchObject({ kind: 'action', status: 'in-work', priority: 'high', dueOn: '2026-12-24', assignee: { name: 'Mikko' } }); // prettier-ignore
    const changed = await call<Topic>(changeTopic, { topic: GUID }, { title: 'Sill', description: 'Sill is too high', topic_status: 'Closed' }); // prettier-ignore
    expect(changed.body.topic_status).toBe('Closed');
    const other = await call<Topic>(makeTopic, {}, { title: 'Door' });
    expect((await call<Topic[]>(topics, {}, undefined, { query: "?$filter=topic_status eq 'Closed'" })).body.map(({ guid }) => guid)).toEqual([GUID]); // prettier-ignore
    expect((await call<Topic[]>(topics, {}, undefined, { query: '?$orderby=index desc&$top=1' })).body[0]!.title).toBe(
      'Door',
    );
    expect((await call(deleteTopic, { topic: other.body.guid })).status).toBe(200);
    expect((await call(topic, { topic: other.body.guid })).status).toBe(404);
  });

  it('adds and changes comments', async () => {
    const made = await call<{ guid: string }>(makeComment, { topic: GUID }, { comment: 'To 55 cm' });
    expect(made.status).toBe(201);
    await call(changeComment, { topic: GUID, comment: made.body.guid }, { comment: 'To 60 cm' });
    expect((await call(comments, { topic: GUID })).body).toMatchObject([{ guid: made.body.guid, comment: 'To 60 cm', author: 'Ines', topic_guid: GUID }]); // prettier-ignore
  });

  it('gives a topic its viewpoint once, with camera, cuts, what shows, and the snapshot', async () => {
    const point = (x: number, y: number, z: number) => ({ x, y, z });
    const data = await sharp({ create: { width: 9, height: 6, channels: 3, background: '#9C3B2E' } })
      .png()
      .toBuffer();
    const body = {
      perspective_camera: { camera_view_point: point(0, -9, 2), camera_direction: point(0, 1, 0), camera_up_vector: point(0, 0, 1), field_of_view: 50, aspect_ratio: 1.5 }, // prettier-ignore
      clipping_planes: [{ location: point(0, 0, 3), direction: point(0, 0, 1) }],
      lines: [{ start_point: point(0, 0, 0), end_point: point(1, 0, 0) }],
      components: {
        selection: [{ ifc_guid: '0aBcDeFgHiJkLmNoPqRs$_' }],
        visibility: { default_visibility: true, exceptions: [{ authoring_tool_id: 'B' }] },
        coloring: [{ color: '#3D9C9C', components: [{ ifc_guid: '0aBcDeFgHiJkLmNoPqRs$_' }] }],
      },
      snapshot: { snapshot_type: 'png', snapshot_data: data.toString('base64') },
    };
    const made = await call<{ guid: string }>(makeViewpoint, { topic: GUID }, body);
    expect(made.status).toBe(201);
    const [read] = (await call<Record<string, unknown>[]>(viewpoints, { topic: GUID })).body;
    const { snapshot: _, clipping_planes: __, ...rest } = body;
    // Any point of a plane says where it lies.
    expect(read).toMatchObject({
      ...rest,
      clipping_planes: [{ location: { z: 3 }, direction: point(0, 0, 1) }],
      perspective_camera: { ...rest.perspective_camera, aspect_ratio: 1.6 },
    });
    expect((await call(coloring, { topic: GUID, viewpoint: made.body.guid })).body).toEqual({ coloring: body.components.coloring }); // prettier-ignore
    const picture = await call(snapshot, { topic: GUID, viewpoint: made.body.guid });
    expect(await sharp(Buffer.from(await picture.answer.arrayBuffer())).metadata()).toMatchObject({
      width: 9,
      height: 6,
    });
    // Another one is an answer, which gets its words by the comment that speaks of it.
    const second = await call<{ guid: string }>(makeViewpoint, { topic: GUID }, body);
    await call(makeComment, { topic: GUID }, { comment: 'From the court', viewpoint_guid: second.body.guid });
    expect((await call<unknown[]>(viewpoints, { topic: GUID })).body).toHaveLength(2);
    expect((await call<unknown[]>(comments, { topic: GUID })).body.at(-1)).toMatchObject({ comment: 'From the court', viewpoint_guid: second.body.guid }); // prettier-ignore
  });

  it('refuses in its own form what is wrong, not allowed, or asked by nobody', async () => {
    const message = async (route: Route, params: Record<string, string>, body?: unknown, more = {}) => {
      const { status, body: said } = await call<{ message: string }>(route, params, body, more);
      expect(said.message).toEqual(expect.any(String));
      return status;
    };
    expect(await message(makeTopic, {}, { title: '' })).toBe(400);
    expect(await message(makeTopic, {}, { title: 'x', guid: GUID })).toBe(409);
    expect(await message(makeTopic, {}, { title: 'x', assigned_to: 'Nobody' })).toBe(400);
    expect(await message(makeTopic, {}, { title: 'x' }, { right: 'read' })).toBe(403);
    expect(await message(changeTopic, { topic: GUID }, { title: 'x' }, { right: 'read' })).toBe(403);
    expect(await message(topics, {}, undefined, { right: null })).toBe(401);
    expect(await message(topics, {}, undefined, { query: '?$filter=x eq 1' })).toBe(400);
    expect(await message(makeViewpoint, { topic: GUID }, { perspective_camera: {} })).toBe(400);
  });
});
