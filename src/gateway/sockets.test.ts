import { randomUUID } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import { connect as connectRaw, type AddressInfo } from 'node:net';
import { sql } from 'drizzle-orm';
import { io, type Socket } from 'socket.io-client';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import type { MeetingState, SettledEvent } from '@/core/meeting/meeting';
import { INITIAL_VIEW, type ViewState } from '@/core/view/view-state';
import { SHOW_ALL } from '@/core/view/visibility';
import { closeConnection, db } from '@/db/database';
import { config } from '@/server/config';
import { tellBegun } from '@/server/broadcast';
import { say } from '@/server/review/comments';
import { revokeLink } from '@/server/access/links';
import type * as MeetingLog from '@/server/review/meeting-log';
import { meetingState, settle } from '@/server/review/meeting-log';
import { sayPresent } from '@/server/review/meeting-presence';
import { enterByCode, startMeeting } from '@/server/review/meetings';
import { createProject } from '@/server/projects/projects';
import { testAccount, testGuest, type TestPerson } from '@/server/test-people';
import { GUEST_COOKIE } from '@/server/access/access';
import { saveViewpoint } from '@/server/review/viewpoints';
import { attachSockets } from './sockets';
import type { LiveServer } from './live-server';

/** So often reading an event fails, as when the database does not answer in time. */
const unreadable = vi.hoisted(() => ({ times: 0 }));
vi.mock('@/server/review/meeting-log', async (original) => {
  const log = await original<typeof MeetingLog>();
  const settledEvent: typeof log.settledEvent = (...args) =>
    unreadable.times-- > 0 ? Promise.reject(new Error('timeout')) : log.settledEvent(...args);
  return { ...log, settledEvent };
});

interface Node {
  http: Server;
  live: LiveServer;
  url: string;
}
interface Answer {
  ok: boolean;
  message?: string;
  state?: MeetingState;
  seq?: number;
}

const CAMERA = { position: [0, -10, 5], target: [0, 0, 0], fov: 50 };
const changed = (change: object) => ({ type: 'view-changed', change });
let nodes: [Node, Node];
let lead: TestPerson;
let project: string;
let meeting: string;
let code: string;
let open: Socket[] = [];

async function startNode(port = 0): Promise<Node> {
  const http = createServer();
  const live = attachSockets(http);
  await new Promise<void>((ready) => http.listen(port, '127.0.0.1', ready));
  return { http, live, url: `http://127.0.0.1:${(http.address() as AddressInfo).port}` };
}

function connect(node: Node, cookie: string): Socket {
  const socket = io(node.url, {
    path: '/live',
    transports: ['websocket'],
    extraHeaders: { cookie },
    forceNew: true,
    reconnectionDelay: 50,
    reconnectionDelayMax: 100,
  });
  open.push(socket);
  return socket;
}

function once<T>(
  socket: Socket,
  event: string,
  wanted: (payload: T) => boolean = () => true,
  patience = 8000,
): Promise<T> {
  return new Promise((done, fail) => {
    const timer = setTimeout(() => fail(new Error(`“${event}” did not come`)), patience);
    const listener = (payload: T) => {
      if (!wanted(payload)) return;
      clearTimeout(timer);
      socket.off(event, listener);
      done(payload);
    };
    socket.on(event, listener);
  });
}

const ask = (socket: Socket, event: string, payload: unknown) =>
  socket.timeout(8000).emitWithAck(event, payload) as Promise<Answer>;

async function inMeeting(node: Node, person: TestPerson): Promise<Socket> {
  const socket = connect(node, person.cookie);
  await once(socket, 'connect');
  expect((await ask(socket, 'watch', { id: project })).ok).toBe(true);
  const answer = await ask(socket, 'meet', { id: meeting });
  expect(answer.ok).toBe(true);
  return socket;
}

beforeAll(async () => {
  lead = await testAccount('Lead');
  nodes = [await startNode(), await startNode()];
});
beforeEach(async () => {
  project = await createProject(lead.actor, 'Sockets', '');
  const started = await startMeeting(lead.actor, project, 'Round');
  meeting = started.id;
  code = started.code!;
});
afterEach(() => {
  for (const socket of open) socket.close();
  open = [];
});
afterAll(async () => {
  for (const { live } of nodes) await live.close();
  await closeConnection();
});

describe('one meeting on two nodes', () => {
  it('settles events in one order and tells everybody', async () => {
    const ines = await inMeeting(nodes[0], lead);
    const bo = await inMeeting(nodes[1], await testGuest(lead.actor, project, 'look', 'Bo'));
    const heard: number[] = [];
    bo.on('settled', ({ seq }: SettledEvent) => heard.push(seq));
    const last = once<SettledEvent>(
      bo,
      'settled',
      ({ event }) => event.type === 'view-changed' && event.change.visibility !== undefined,
    );
    for (let i = 0; i < 5; i++) await ask(ines, 'act', changed({ camera: { ...CAMERA, fov: 40 + i } }));
    const { seq } = await ask(ines, 'act', changed({ visibility: SHOW_ALL }));
    expect((await last).seq).toBe(seq);
    expect(heard.slice(-6)).toEqual(Array.from({ length: 6 }, (_, i) => seq! - 5 + i));
    const state = await meetingState(meeting);
    expect(state.view!.camera.fov).toBe(44);
    expect(state.participants.map((person) => [person.name, person.present, person.guest])).toEqual([
      ['Lead', true, false],
      ['Bo', true, true],
    ]);
  });

  it('passes on what the lead moves, and drops what others move or what makes no sense', async () => {
    const ines = await inMeeting(nodes[0], lead);
    const guest = await testGuest(lead.actor, project, 'look', 'Bo');
    const bo = await inMeeting(nodes[1], guest);
    const near = await inMeeting(nodes[0], guest);
    const { seq: after } = await ask(ines, 'act', changed({ camera: CAMERA }));
    const heard: unknown[] = [];
    for (const socket of [ines, near, bo]) socket.on('view-moving', (hint) => heard.push(hint));
    bo.emit('view-moving', { change: { camera: CAMERA } }); // not in the lead
    ines.emit('view-moving', { change: { camera: { ...CAMERA, fov: 'wide' } } });
    ines.emit('view-moving', { change: {} });
    const both = Promise.all([once(near, 'view-moving'), once(bo, 'view-moving')]);
    ines.emit('view-moving', { change: { fades: [], camera: CAMERA } });
    await both;
    const hint = { from: lead.actor.id, change: { fades: [], camera: CAMERA }, after };
    expect(heard).toEqual([hint, hint]);
  });

  it('gathers pointers, also over nodes, and tells them together', async () => {
    const ines = await inMeeting(nodes[0], lead);
    const people = await Promise.all(
      ['Bo', 'Cy'].map(async (name) => {
        const person = await testGuest(lead.actor, project, 'look', name);
        return { id: person.actor.id, socket: await inMeeting(nodes[1], person) };
      }),
    );
    const [bo, cy] = people as [(typeof people)[0], (typeof people)[0]];
    const seen: Record<string, unknown> = {};
    let messages = 0;
    ines.on('shown', ({ pointers }: { pointers?: object }) => {
      messages++;
      Object.assign(seen, pointers);
    });
    bo.socket.emit('pointer', { point: ['<b>', 1, 2] });
    bo.socket.emit('pointer', { point: [1, 2, 3], extra: 'x' });
    bo.socket.emit('pointer', null);
    for (let i = 0; i < 10; i++) for (const { socket } of people) socket.emit('pointer', { point: [i, 2.00049, 3] });
    await expect.poll(() => seen).toEqual({ [bo.id]: [9, 2, 3], [cy.id]: [9, 2, 3] });
    expect(messages).toBeLessThan(8); // twenty were sent
    cy.socket.emit('pointer', { point: null });
    await expect.poll(() => seen[cy.id]).toBeNull();

    // From where people look goes the same way.
    const eyes: Record<string, unknown> = {};
    ines.on('shown', (told: { eyes?: object }) => Object.assign(eyes, told.eyes));
    bo.socket.emit('eyes', { eyes: { at: [1, 2, 1.60049], towards: [0, 1, 0], stands: 99 } });
    bo.socket.emit('eyes', { eyes: { at: [1, 2], towards: [0, 1, 0], stands: 1.6 } });
    cy.socket.emit('eyes', { eyes: { at: [1, 2, 1.60049], towards: [0, 1, 0], stands: 1.6 } });
    await expect.poll(() => eyes).toEqual({ [cy.id]: { at: [1, 2, 1.6], towards: [0, 1, 0], stands: 1.6 } });
    // Somebody who points does not hide that somebody else walks.
    const pointing = setInterval(() => bo.socket.emit('pointer', { point: [Math.random(), 2, 3] }), 20);
    cy.socket.emit('eyes', { eyes: { at: [7, 2, 1.6], towards: [0, 1, 0], stands: 1.6 } });
    await expect.poll(() => eyes[cy.id]).toMatchObject({ at: [7, 2, 1.6] });
    clearInterval(pointing);
  });

  it('shows a viewpoint as the server has it, and tells of comments and viewpoints that others make', async () => {
    const view = { ...INITIAL_VIEW, camera: CAMERA } as ViewState;
    const viewpoint = await saveViewpoint(lead.actor, project, 'Desk', view, null);
    const ines = await inMeeting(nodes[0], lead);
    const bo = await inMeeting(nodes[1], await testGuest(lead.actor, project, 'comment', 'Bo'));
    const applied = once<SettledEvent>(
      bo,
      'settled',
      ({ event }) => event.type === 'view-changed' && event.viewpoint !== null,
    );
    await ask(ines, 'act', { type: 'view-changed', viewpoint, change: view }).then((answer) =>
      expect(answer.ok).toBe(false),
    );
    await ask(ines, 'act', { type: 'view-changed', viewpoint });
    expect((await applied).event).toEqual({ type: 'view-changed', viewpoint, change: view });
    const told = once(bo, 'comments-changed');
    await say(lead.actor, project, { text: 'Look here' });
    expect(await told).toEqual({ projectId: project });
  });
});

describe('rights on the wire', () => {
  it('let nobody in without a cookie that means something', async () => {
    for (const cookie of ['', `${GUEST_COOKIE}=made-up`]) {
      const error = await once<Error>(connect(nodes[0], cookie), 'connect_error');
      expect(error.message).toBe('signed-out');
    }
  });

  it('keep a guest to their project and their part', async () => {
    const other = await createProject(lead.actor, 'Other', '');
    const bo = await inMeeting(nodes[0], await testGuest(lead.actor, project, 'look', 'Bo'));
    expect(await ask(bo, 'watch', { id: other })).toMatchObject({ ok: false, message: /not found/ });
    expect(await ask(bo, 'watch', { id: '1; drop table' })).toMatchObject({ ok: false });
    expect(await ask(bo, 'act', changed({ camera: CAMERA }))).toMatchObject({
      ok: false,
      message: 'Only the person in the lead can do that. Ask for the lead.',
    });
    expect(await ask(bo, 'act', { type: 'ended' })).toMatchObject({ ok: false });
    expect(await ask(bo, 'act', { type: 'joined', participant: { id: 'x' } })).toMatchObject({ ok: false });
    expect((await meetingState(meeting)).endedAt).toBeNull();
  });

  it('carry what is drawn to every node while it grows, signed by whoever draws, and nothing from those who may only look', async () => {
    const mark = { id: 'm', kind: 'free', ink: 'ink', pen: 'fine', points: [0, 0, 1, 1], pressures: [], text: '', camera: CAMERA, by: { id: 'somebody', name: 'Else' } }; // prettier-ignore
    const ines = await inMeeting(nodes[0], lead);
    await ask(ines, 'act', changed({ camera: CAMERA }));
    const guest = await testGuest(lead.actor, project, 'comment', 'Bo');
    const bo = await inMeeting(nodes[1], guest);
    const lo = await inMeeting(nodes[1], await testGuest(lead.actor, project, 'look', 'Lo'));
    const grows = once<{ by: string; growth: { mark: typeof mark } }>(ines, 'growing');
    lo.emit('growing', { growth: { mark, from: 0 } });
    bo.emit('growing', { growth: { mark: { ...mark, points: [0, 0] }, from: 0 } });
    // The first that comes is the one of whoever may draw.
    const { by, growth } = await grows;
    expect([by, growth.mark.by]).toEqual([guest.actor.id, { id: guest.actor.id, name: 'Bo' }]);
    expect(await ask(lo, 'act', { type: 'marked', put: [mark], gone: [] })).toMatchObject({ ok: false });
    expect(await ask(bo, 'act', { type: 'marked', put: [mark], gone: [] })).toMatchObject({ ok: true });
    expect((await meetingState(meeting)).view!.marks).toMatchObject([
      { id: 'm', by: { id: guest.actor.id, name: 'Bo' } },
    ]);
    expect(await ask(bo, 'act', { type: 'marked', put: [{ ...mark, points: [0] }], gone: [] })).toMatchObject({ ok: false }); // prettier-ignore
  });

  it('end at once, on every node, when the link is withdrawn', async () => {
    const guest = await testGuest(lead.actor, project, 'comment', 'Bo');
    const bo = await inMeeting(nodes[1], guest);
    const ended = once(bo, 'access-ended');
    const gone = once(bo, 'disconnect');
    await revokeLink(lead.actor, project, guest.linkId);
    await ended;
    expect(await gone).toBe('io server disconnect');
  });

  it('end with the link also where somebody only joined the meeting', async () => {
    const guest = await testGuest(lead.actor, project, 'look', 'Bo');
    const bo = connect(nodes[1], guest.cookie);
    await once(bo, 'connect');
    expect((await ask(bo, 'meet', { id: meeting })).ok).toBe(true);
    const ended = once(bo, 'access-ended');
    await revokeLink(lead.actor, project, guest.linkId);
    await ended;
  });

  it('of those who came by its code end with the meeting; an account stays', async () => {
    const ines = await inMeeting(nodes[0], lead);
    const { secret } = await enterByCode(code, 'Tuula');
    const tuula = connect(nodes[1], `${GUEST_COOKIE}=${secret}`);
    await once(tuula, 'connect');
    await ask(tuula, 'watch', { id: project });
    const ended = once(tuula, 'access-ended');
    const changed = once(ines, 'meeting-changed');
    await ask(ines, 'act', { type: 'ended' });
    await Promise.all([ended, changed]);
    expect(ines.connected).toBe(true);
  });

  it('let the lead hide very many single elements without losing the line', async () => {
    const ines = await inMeeting(nodes[0], lead);
    const bo = await inMeeting(nodes[1], await testGuest(lead.actor, project, 'look', 'Bo'));
    const guids = Array.from({ length: 49_000 }, (_, i) => `2O2Fr$t4X7Zf8NOew${String(i).padStart(5, '0')}`);
    const shown = [{ also: [] }, { except: [{ is: 'element', guids }] }];
    const heard = once<SettledEvent>(bo, 'settled', ({ event }) => event.type === 'view-changed');
    const answer = await ask(ines, 'act', changed({ visibility: { shown, hiddenModels: [] } }));
    expect(answer.ok).toBe(true);
    const { event } = await heard;
    expect(event).toMatchObject({ change: { visibility: { shown } } });
    expect(ines.connected).toBe(true);
  });

  it('count people, not their windows, and let nobody ask without end', async () => {
    const limits = config() as { maxParticipants: number };
    const before = limits.maxParticipants;
    limits.maxParticipants = 2;
    try {
      const guest = await testGuest(lead.actor, project, 'look', 'Bo');
      await inMeeting(nodes[0], lead);
      const bo = await inMeeting(nodes[1], guest);
      await inMeeting(nodes[0], guest);
      await inMeeting(nodes[1], guest);
      const third = connect(nodes[0], (await testGuest(lead.actor, project, 'look', 'Cy')).cookie);
      await once(third, 'connect');
      expect(await ask(third, 'meet', { id: meeting })).toMatchObject({ ok: false, message: expect.stringMatching(/full/) as string }); // prettier-ignore
      const answers = await Promise.all(Array.from({ length: 80 }, () => ask(bo, 'meet', { id: meeting })));
      expect(answers.filter(({ ok }) => !ok).length).toBeGreaterThanOrEqual(20);
    } finally {
      limits.maxParticipants = before;
    }
  });

  it('are only so many of one person at a node', async () => {
    const guest = await testGuest(lead.actor, project, 'look', 'Bo');
    const windows = Array.from({ length: 13 }, () => connect(nodes[0], guest.cookie));
    const ends = await Promise.all(
      windows.map(
        (socket) =>
          new Promise<string>((done) => {
            socket.on('connect', () => done('open'));
            socket.on('connect_error', ({ message }) => done(message));
          }),
      ),
    );
    expect(ends.filter((end) => end === 'open')).toHaveLength(12);
    expect(ends).toContain('too-many');
  });

  it('tell who was in a meeting that is over only to those who may read its minutes', async () => {
    const ines = await inMeeting(nodes[0], lead);
    const bo = await inMeeting(nodes[1], await testGuest(lead.actor, project, 'look', 'Bo'));
    await ask(ines, 'act', { type: 'ended' });
    expect(await ask(bo, 'meet', { id: meeting })).toMatchObject({ ok: false });
    expect((await ask(ines, 'meet', { id: meeting })).state!.participants).toHaveLength(2);
  });

  it('refuse characters that cannot be stored, in words', async () => {
    const ines = await inMeeting(nodes[0], lead);
    const where = [[{ is: 'search', value: 'a\0b' }]];
    expect(await ask(ines, 'act', changed({ selection: where }))).toMatchObject({ ok: false, message: expect.stringMatching(/cannot be stored/) as string }); // prettier-ignore
  });

  it('slow down who sends too much', async () => {
    const ines = await inMeeting(nodes[0], lead);
    const answers = await Promise.all(Array.from({ length: 70 }, () => ask(ines, 'act', changed({ camera: CAMERA }))));
    const refused = answers.filter(({ message }) => message?.includes('Too much at once'));
    expect(refused.length).toBeGreaterThanOrEqual(10);
  });
});

describe('strangers', () => {
  it('who never say who they are take up a few hundred connections, for some seconds, and keep nobody else away', async () => {
    const node = await startNode();
    const { port } = node.http.address() as AddressInfo;
    const key = Buffer.from('0123456789abcdef').toString('base64');
    const answers: string[] = [];
    const strangers = Array.from({ length: 330 }, () => {
      const raw = connectRaw(
        port,
        '127.0.0.1',
        () =>
        raw.write(`GET /live/?EIO=4&transport=websocket HTTP/1.1\r\nHost: a\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Key: ${key}\r\nSec-WebSocket-Version: 13\r\n\r\n`), // prettier-ignore
      );
      raw.once('data', (data: Buffer) => answers.push(data.toString().slice(9, 12)));
      raw.on('error', () => undefined);
      return raw;
    });
    await expect.poll(() => answers.length).toBe(330);
    expect(answers.filter((status) => status === '101')).toHaveLength(300);
    // Who was let in before does not count, and the places are free again soon.
    await expect.poll(() => strangers.filter(({ closed }) => closed).length, { timeout: 9000 }).toBe(330);
    await inMeeting(node, lead);
    for (const socket of open) socket.close();
    await node.live.close();
  }, 20_000);
});

describe('a flood', () => {
  it('of messages, or of long ones, ends the connection it comes by and delays nobody', async () => {
    const ines = await inMeeting(nodes[1], lead);
    const guest = await testGuest(lead.actor, project, 'look', 'Bo');
    for (const [count, point] of [
      [2000, [1, 2, 3]],
      [4, 'x'.repeat(3_000_000)],
    ] as const) {
      const bo = await inMeeting(nodes[1], guest);
      const gone = once(bo, 'disconnect');
      for (let i = 0; i < count; i++) bo.emit('pointer', { point });
      await gone;
      bo.close();
    }
    expect((await ask(ines, 'act', changed({ camera: CAMERA }))).ok).toBe(true);
  });
});

describe('what a guest has settled', () => {
  it('is bounded in letters: it is kept for good', async () => {
    const ines = await inMeeting(nodes[1], lead);
    await ask(ines, 'act', changed({ camera: CAMERA }));
    const bo = await inMeeting(nodes[1], await testGuest(lead.actor, project, 'comment', 'Bo'));
    const points = Array.from({ length: 1200 }, (_, i) => Math.sin(i));
    const put = Array.from({ length: 50 }, (_, i) => ({ id: `m${i}`, kind: 'free', ink: 'ink', pen: 'fine', points, pressures: [], text: '', camera: CAMERA, by: { id: 'x', name: 'y' } })); // prettier-ignore
    const length = JSON.stringify(put).length;
    const answers: Answer[] = [];
    for (let i = 0; i < 6; i++) answers.push(await ask(bo, 'act', { type: 'marked', put, gone: [] }));
    expect(answers.filter(({ ok }) => ok)).toHaveLength(Math.floor(4_000_000 / length));
    expect(answers.at(-1)!.message).toMatch(/Too much at once/);
  });
});

describe('a database that goes down', () => {
  it('leaves nobody without what was settled meanwhile, on any node', async () => {
    const ines = await inMeeting(nodes[0], lead);
    const bo = await inMeeting(nodes[1], await testGuest(lead.actor, project, 'look', 'Bo'));
    const { seq } = await meetingState(meeting);
    const both = [ines, bo].map((socket) => once<SettledEvent>(socket, 'settled', (event) => event.seq > seq));
    const projects = [ines, bo].map((socket) => once(socket, 'comments-changed'));
    await db().execute(
      sql`select pg_terminate_backend(pid) from pg_stat_activity where application_name like 'yurta %' and datname = current_database()`,
    );
    // Nobody listens just now.
    await settle(meeting, lead.actor.id, { type: 'view-changed', change: { selection: [] }, viewpoint: null });
    for (const event of await Promise.all(both)) expect(event.seq).toBe(seq + 1);
    await Promise.all(projects);
    // And they hear of what comes next.
    const next = [ines, bo].map((socket) => once<SettledEvent>(socket, 'settled', (event) => event.seq === seq + 2));
    await settle(meeting, lead.actor.id, { type: 'view-changed', change: { fades: [] }, viewpoint: null });
    await Promise.all(next);
  });
});

describe('a database that hangs', () => {
  it('does not leave a node deaf: a connection that says nothing is opened anew, and what was missed is told', async () => {
    await inMeeting(nodes[0], lead);
    const bo = await inMeeting(nodes[1], await testGuest(lead.actor, project, 'look', 'Bo'));
    const { seq } = await meetingState(meeting);
    const told = once<SettledEvent>(bo, 'settled', (event) => event.seq > seq, 20_000);
    const { rows } = await db().execute<{ pid: number }>(
      sql`select pid from pg_stat_activity where application_name = 'yurta live notices' and datname = current_database()`,
    );
    expect(rows.length).toBeGreaterThan(1);
    for (const { pid } of rows) process.kill(pid, 'SIGSTOP');
    try {
      await settle(meeting, lead.actor.id, { type: 'view-changed', change: { selection: [] }, viewpoint: null });
      expect((await told).seq).toBe(seq + 1);
    } finally {
      for (const { pid } of rows) process.kill(pid, 'SIGCONT');
    }
  }, 30_000);

  it('is asked again for an event that could not be read when it was announced', async () => {
    await inMeeting(nodes[0], lead);
    const bo = await inMeeting(nodes[1], await testGuest(lead.actor, project, 'look', 'Bo'));
    const { seq } = await meetingState(meeting);
    const told = once<SettledEvent>(bo, 'settled', (event) => event.seq > seq);
    unreadable.times = 2; // once for each node
    await settle(meeting, lead.actor.id, { type: 'view-changed', change: { selection: [] }, viewpoint: null });
    expect((await told).seq).toBe(seq + 1);
    expect(unreadable.times).toBeLessThan(2);
  });
});

describe('a node that is killed', () => {
  it('may have died before it told anybody: when it begins again, everything is asked anew', async () => {
    const ines = await inMeeting(nodes[0], lead);
    const { seq } = await meetingState(meeting);
    const last = once<SettledEvent>(ines, 'settled', (event) => event.seq === seq);
    const changed = ['models-changed', 'comments-changed'].map((event) => once(ines, event));
    await tellBegun();
    await Promise.all([last, ...changed]);
  });

  it('is not asked who is there: its people are gone for the others, and who is taken for gone comes back', async () => {
    const ines = await inMeeting(nodes[0], lead);
    const lost = { id: 'lost', name: 'Lost', guest: true, host: false };
    await settle(meeting, null, { type: 'joined', participant: lost });
    await sayPresent(randomUUID(), [{ meetingId: meeting, participant: lost.id }]);
    const left = once<SettledEvent>(
      ines,
      'settled',
      ({ event }) => event.type === 'left' && event.participant === lost.id,
      20_000,
    );
    await left;
    const back = once<SettledEvent>(ines, 'settled', ({ event }) => event.type === 'joined', 20_000);
    await settle(meeting, null, { type: 'left', participant: lead.actor.id });
    await back;
    expect((await meetingState(meeting)).participants.find(({ id }) => id === lead.actor.id)!.present).toBe(true);
  }, 30_000);
});

describe('a node that goes down', () => {
  it('comes back with the meeting as it was; people return by themselves', async () => {
    let node = await startNode();
    const { port } = node.http.address() as AddressInfo;
    const ines = await inMeeting(node, lead);
    await ask(ines, 'act', changed({ camera: { ...CAMERA, fov: 33 } }));
    const before = await meetingState(meeting);
    const lost = once(ines, 'disconnect');
    await node.live.close();
    await lost;
    // Meanwhile the meeting goes on elsewhere.
    await settle(meeting, lead.actor.id, { type: 'view-changed', change: { selection: [] }, viewpoint: null });
    const back = once(ines, 'connect');
    node = await startNode(port);
    await back;
    const { state } = await ask(ines, 'meet', { id: meeting });
    expect(state!.seq).toBe(before.seq + 1);
    expect(state!.view!.camera.fov).toBe(33);
    expect(state!.lead).toBe(lead.actor.id);
    await node.live.close();
  });
});
