import { io, type Socket } from 'socket.io-client';
import type { MarkGrowth } from '@/core/mark/growth';
import type { Vec3 } from '@/core/math/mat4';
import type { ViewChange } from '@/core/view/view-state';
import { now } from './monotonic';

/** What the parent asks of the crowd, and what it answers. */
export type CrowdOrder =
  | { order: 'join'; url: string; meeting: string; cookies: string[] }
  | { order: 'move'; moving: number }
  | { order: 'report' };
export type CrowdReport =
  { joined: number } | { moving: number[]; settled: number[]; growing: number[]; gatheredMessages: number };

/**
 * The people of a meeting in a process of their own: they listen, and some of them move: their pointers and, as figures, themselves.
 * One in ten of those draws as well.
 */
const MOVE_MS = 62;
/** Between two bits of a line that grows. */
const DRAW_MS = 80;
const BITS_A_LINE = 25;
const sockets: Socket[] = [];
let movers: NodeJS.Timeout[] = [];
let moving: number[] = [];
let settled: number[] = [];
let growing: number[] = [];
let gatheredMessages = 0;

/** The lead writes the time into the camera's place. */
function latency(change: ViewChange): number {
  return now() - change.camera!.position[0];
}

async function join(url: string, meeting: string, cookie: string): Promise<Socket> {
  const socket = io(url, { path: '/live', transports: ['websocket'], extraHeaders: { cookie }, forceNew: true });
  await new Promise<void>((done) => socket.on('connect', done));
  await socket.timeout(30_000).emitWithAck('meet', { id: meeting });
  socket.on('view-moving', ({ change }: { change: ViewChange }) => moving.push(latency(change)));
  socket.on('settled', ({ event }: { event: { type: string; change: ViewChange } }) => {
    if (event.type === 'view-changed') settled.push(latency(event.change));
  });
  socket.on('growing', ({ growth }: { growth: MarkGrowth }) => growing.push(now() - growth.mark.points.at(-1)! * 1000));
  socket.on('shown', () => gatheredMessages++);
  return socket;
}

process.on('message', (message: CrowdOrder) => void follow(message));
process.on('disconnect', () => process.exit(0));

async function follow(message: CrowdOrder): Promise<void> {
  if (message.order === 'join') {
    for (const cookie of message.cookies) sockets.push(await join(message.url, message.meeting, cookie));
    process.send!({ joined: sockets.length } satisfies CrowdReport);
  } else if (message.order === 'move') {
    movers.forEach(clearInterval);
    moving = [];
    settled = [];
    growing = [];
    gatheredMessages = 0;
    // Everybody in their own moment, as people are.
    let next = 0;
    const some = sockets.slice(0, message.moving);
    if (some.length === 0) return;
    const move = setInterval(() => {
      for (const end = next + some.length / MOVE_MS; next < end; next++) {
        const one = some[Math.floor(next) % some.length]!;
        const at: Vec3 = [next % 50, 1.234, 2.345];
        one.volatile.emit('pointer', { point: at });
        one.volatile.emit('eyes', { eyes: { at, towards: [1, 0, 0], stands: 1.6 } });
      }
    }, 1);
    const drawing = some.filter((_, i) => i % 10 === 0).map((socket, i) => setInterval(() => draw(socket, i), DRAW_MS));
    movers = [move, ...drawing];
  } else {
    process.send!({ moving, settled, growing, gatheredMessages } satisfies CrowdReport);
  }
}

const bits = new Map<Socket, number>();

/** A line of somebody's own gets three more points; the last number is the time in seconds. */
function draw(socket: Socket, who: number): void {
  const bit = bits.get(socket) ?? 0;
  bits.set(socket, bit + 1);
  const grown = bit % BITS_A_LINE;
  const mark = {
    id: `line-${who}-${Math.floor(bit / BITS_A_LINE)}`,
    kind: 'free',
    ink: 'ink',
    pen: 'fine',
    points: [0.1, 0.1, 0.2, 0.2, 0.3, now() / 1000],
    pressures: [],
    text: '',
    camera: { position: [0, -10, 5], target: [0, 0, 0], fov: 50 },
    by: { id: 'somebody', name: 'Somebody' },
  };
  socket.volatile.emit('growing', { growth: { mark, from: grown * 6 } });
}
