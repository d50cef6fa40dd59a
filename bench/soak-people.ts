import { randomUUID } from 'node:crypto';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { io, type Socket } from 'socket.io-client';
import { Remote } from '@/cli/remote';
import type { MeetingState, SettledEvent } from '@/core/meeting/meeting';
import type { Comment } from '@/core/project/comment';
import type { ProjectDetail } from '@/core/project/models';
import type { ViewpointCard } from '@/core/project/viewpoint-card';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { summarise, type Measured } from './measure';

/** What became of what was accepted. */
export interface SoakReport {
  accepted: number;
  lost: number;
  doubled: number;
  /** Seconds for which somebody had to wait until they were served again. */
  away?: Measured;
}

/** Somebody who uses an installation while it is shaken. */
export interface Soaker {
  readonly name: string;
  /** Does what they do until they rest. */
  work(): Promise<void>;
  rest(): void;
  /** Waits until all that was accepted is done. @param until milliseconds since 1970 */
  settle(until: number): Promise<void>;
  report(): Promise<SoakReport>;
}

type Servers = readonly [string, string];

/** A person signed in, who asks whichever node answers. */
class Client {
  private turn = 0;
  private constructor(
    private readonly servers: Servers,
    readonly cookie: string,
  ) {}

  static async signIn(servers: Servers, password: string): Promise<Client> {
    const answer = await fetch(`${servers[0]}/api/auth/sign-in/email`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', origin: servers[0] },
      body: JSON.stringify({ email: 'lead@soak.example', password }),
    });
    if (!answer.ok) throw new Error(`signing in: ${answer.status}`);
    return new Client(servers, answer.headers.getSetCookie().map((line) => line.split(';')[0]).join('; ')); // prettier-ignore
  }

  /** Asks again and again, of one node and the other, until there is an answer. */
  async ask<T>(method: string, path: string, body?: object): Promise<T> {
    const key = randomUUID();
    for (;;) {
      const server = this.servers[this.turn++ % 2]!;
      const answer = await fetch(`${server}${path}`, {
        method,
        headers: { cookie: this.cookie, ...(body && { 'content-type': 'application/json', 'idempotency-key': key }) },
        ...(body && { body: JSON.stringify(body) }),
        signal: AbortSignal.timeout(10_000),
      }).catch(() => null);
      if (answer?.ok) return (await answer.json()) as T;
      // What is refused for good is a fault of this program.
      if (answer && ![409, 429, 500, 502, 503, 507].includes(answer.status))
        throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
      await pause(200);
    }
  }

  async project(name: string): Promise<string> {
    return (await this.ask<{ id: string }>('POST', '/api/projects', { name, place: '' })).id;
  }
}

/** Says things and keeps viewpoints. */
export class SoakSpeaker implements Soaker {
  readonly name = 'comments and viewpoints';
  private readonly said = new Set<string>();
  private readonly kept = new Set<string>();
  private isResting = false;

  private constructor(
    private readonly client: Client,
    private readonly project: string,
  ) {}

  static async begin(servers: Servers, password: string): Promise<Soaker> {
    const client = await Client.signIn(servers, password);
    return new SoakSpeaker(client, await client.project('Said'));
  }

  async work(): Promise<void> {
    while (!this.isResting) {
      const text = `Said ${randomUUID()}`;
      await this.client.ask('POST', `/api/projects/${this.project}/comments`, { text });
      this.said.add(text);
      if (this.said.size % 4 === 0) {
        const name = `Seen ${randomUUID()}`;
        await this.client.ask('POST', `/api/projects/${this.project}/viewpoints`, { name, state: INITIAL_VIEW });
        this.kept.add(name);
      }
      await pause(1200);
    }
  }

  rest(): void {
    this.isResting = true;
  }

  settle(): Promise<void> {
    return Promise.resolve();
  }

  async report(): Promise<SoakReport> {
    const comments = await this.client.ask<Comment[]>('GET', `/api/projects/${this.project}/comments`);
    const cards = await this.client.ask<ViewpointCard[]>('GET', `/api/projects/${this.project}/viewpoints`);
    const parts = [
      compare(
        [...this.said],
        comments.map(({ text }) => text),
      ),
      compare(
        [...this.kept],
        cards.map(({ name }) => name),
      ),
    ];
    return {
      accepted: this.said.size + this.kept.size,
      lost: parts[0]!.lost + parts[1]!.lost,
      doubled: parts[0]!.doubled + parts[1]!.doubled,
    };
  }
}

/** Publishes revision after revision of a small model, as a script would. */
export class SoakPublisher implements Soaker {
  readonly name = 'publications';
  private readonly published = new Set<string>();
  private isResting = false;

  private constructor(
    private readonly client: Client,
    private readonly remotes: Remote[],
    private readonly project: string,
    private readonly folder: string,
  ) {}

  static async begin(servers: Servers, password: string, folder: string): Promise<Soaker> {
    const client = await Client.signIn(servers, password);
    const { token } = await client.ask<{ token: string }>('POST', '/api/tokens', { label: 'Soak', right: 'publish' });
    const files = join(folder, 'soak');
    await mkdir(files, { recursive: true });
    return new SoakPublisher(
      client,
      servers.map((server) => new Remote(server, token)),
      await client.project('Published'),
      files,
    );
  }

  async work(): Promise<void> {
    for (let i = 0; !this.isResting; i++) {
      const path = join(this.folder, 'cube.gltf');
      await writeFile(path, cube(1 + i / 10));
      try {
        const note = `Round ${i}`;
        this.published.add(
          await this.remotes[i % 2]!.publish(path, { projectId: this.project, note, intent: 'publish' }),
        );
      } catch {
        await pause(500); // the node is away; what was not accepted is not counted
      }
      await pause(4000);
    }
  }

  rest(): void {
    this.isResting = true;
  }

  async settle(until: number): Promise<void> {
    while (Date.now() < until) {
      const open = (await this.revisions()).filter(({ state }) => ['queued', 'running', 'failed'].includes(state));
      if (open.length === 0) return;
      // What failed for want of room is tried again by whoever published it.
      for (const { id, state } of open)
        if (state === 'failed') await this.client.ask('POST', `/api/revisions/${id}/retry`, {});
      await pause(1000);
    }
  }

  async report(): Promise<SoakReport> {
    const there = (await this.revisions()).filter(({ state }) => state === 'published');
    const numbers = there.map(({ code }) => Number(code!.slice(1))).sort((x, y) => x - y);
    return {
      accepted: this.published.size,
      lost: compare(
        [...this.published],
        there.map(({ id }) => id),
      ).lost,
      // Published in excess: numbers that are there twice, or an upload that became two revisions.
      doubled: numbers.length - new Set(numbers).size + Math.max(0, there.length - new Set(there.map(({ note }) => note)).size), // prettier-ignore
    };
  }

  private async revisions() {
    const project = await this.client.ask<ProjectDetail>('GET', `/api/projects/${this.project}`);
    return project.models.flatMap(({ revisions }) => revisions);
  }
}

/** A meeting whose lead is on one node and whose guest is on the other. */
export class SoakMeeting implements Soaker {
  private readonly accepted = new Set<number>();
  private readonly away: number[] = [];
  private heard = 0;
  private isResting = false;

  private constructor(
    readonly name: string,
    private readonly client: Client,
    private readonly meeting: string,
    private readonly lead: Socket,
    private readonly guest: Socket,
  ) {}

  static async begin(servers: Servers, password: string, name: string): Promise<Soaker> {
    const client = await Client.signIn(servers, password);
    const project = await client.project(name);
    const { meeting } = await client.ask<{ meeting: { id: string } }>('POST', `/api/projects/${project}/meeting`, { title: name }); // prettier-ignore
    const { url } = await client.ask<{ url: string }>('POST', `/api/projects/${project}/links`, { label: name, right: 'look' }); // prettier-ignore
    const door = await fetch(`${servers[1]}/api/enter`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'Guest', token: url.split('/l/')[1] }),
    });
    const secret = door.headers.getSetCookie()[0]!.split(';')[0]!;
    const one = new SoakMeeting(
      name,
      client,
      meeting.id,
      connect(servers[0], client.cookie),
      connect(servers[1], secret),
    );
    one.listen();
    return one;
  }

  private listen(): void {
    for (const socket of [this.lead, this.guest]) {
      let lost: number | null = null;
      socket.on('disconnect', () => (lost ??= Date.now()));
      socket.on('connect', () => {
        socket
          .timeout(10_000)
          .emitWithAck('meet', { id: this.meeting })
          .then(({ state }: { state?: MeetingState }) => {
            if (!state) return;
            if (socket === this.guest) this.heard = Math.max(this.heard, state.seq);
            if (lost !== null) this.away.push((Date.now() - lost) / 1000);
            lost = null;
          })
          .catch(() => socket.disconnect().connect());
      });
    }
    this.guest.on('settled', ({ seq }: SettledEvent) => (this.heard = Math.max(this.heard, seq)));
  }

  async work(): Promise<void> {
    for (let i = 0; !this.isResting; i++) {
      const change = { camera: { ...INITIAL_VIEW.camera, fov: 30 + (i % 60) } };
      const answer = (await this.lead
        .timeout(5000)
        .emitWithAck('act', { type: 'view-changed', change })
        .catch(() => null)) as { ok: boolean; seq?: number } | null;
      if (answer?.ok) this.accepted.add(answer.seq!);
      await pause(500);
    }
  }

  rest(): void {
    this.isResting = true;
  }

  /** At the latest after everybody is back, the guest has heard of all that was accepted. */
  async settle(until: number): Promise<void> {
    const last = Math.max(0, ...this.accepted);
    while (this.heard < last && Date.now() < until) await pause(200);
  }

  async report(): Promise<SoakReport> {
    const { events } = await this.client.ask<{ events: SettledEvent[] }>(
      'GET',
      `/api/meetings/${this.meeting}/recording`,
    );
    const numbers = events.map(({ seq }) => seq);
    const isGapless = numbers.every((seq, i) => seq === i + 1);
    const { lost, doubled } = compare([...this.accepted].map(String), numbers.map(String));
    this.lead.close();
    this.guest.close();
    return {
      accepted: this.accepted.size,
      lost: lost + (isGapless ? 0 : 1) + (this.heard < Math.max(0, ...this.accepted) ? 1 : 0),
      doubled,
      ...(this.away.length > 0 && { away: summarise(this.away) }),
    };
  }
}

function connect(server: string, cookie: string): Socket {
  const socket = io(server, {
    path: '/live',
    transports: ['websocket'],
    extraHeaders: { cookie },
    forceNew: true,
    reconnectionDelay: 300,
    reconnectionDelayMax: 2000,
  });
  socket.on('connect_error', () => {
    if (!socket.active) setTimeout(() => socket.connect(), 1000);
  });
  return socket;
}

/** Of what was accepted, what is not there, and what is there more than once. */
function compare(accepted: readonly string[], there: readonly string[]): { lost: number; doubled: number } {
  const counts = new Map<string, number>();
  for (const one of there) counts.set(one, (counts.get(one) ?? 0) + 1);
  return {
    lost: accepted.filter((one) => !counts.has(one)).length,
    doubled: [...counts.values()].filter((count) => count > 1).length,
  };
}

/** A cube as glTF, whose unit is the metre. @param size of an edge */
function cube(size: number): string {
  const corners = Float32Array.from([0, 1].flatMap((x) => [0, 1].flatMap((y) => [0, 1].flatMap((z) => [x, y, z]))), (one) => one * size); // prettier-ignore
  const faces = [[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]]; // prettier-ignore
  const indices = Uint16Array.from(faces.flatMap(([a, b, c, d]) => [a!, b!, c!, a!, c!, d!]));
  const bytes = Buffer.concat([Buffer.from(corners.buffer), Buffer.from(indices.buffer)]);
  return JSON.stringify({
    asset: { version: '2.0' },
    scenes: [{ nodes: [0] }],
    nodes: [{ mesh: 0, name: 'Cube' }],
    meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] }],
    buffers: [{ byteLength: bytes.length, uri: `data:application/octet-stream;base64,${bytes.toString('base64')}` }],
    bufferViews: [
      { buffer: 0, byteOffset: 0, byteLength: corners.byteLength },
      { buffer: 0, byteOffset: corners.byteLength, byteLength: indices.byteLength },
    ],
    accessors: [
      { bufferView: 0, componentType: 5126, count: 8, type: 'VEC3', min: [0, 0, 0], max: [size, size, size] },
      { bufferView: 1, componentType: 5123, count: 36, type: 'SCALAR' },
    ],
  });
}

function pause(milliseconds: number): Promise<void> {
  return new Promise((done) => setTimeout(done, milliseconds));
}
