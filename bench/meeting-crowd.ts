import { io, type Socket } from 'socket.io-client';
import type { ViewChange } from '@/core/view/view-state';
import { now } from './monotonic';

/** What the parent asks of the crowd, and what it answers. */
export type CrowdOrder =
  | { order: 'join'; url: string; meeting: string; cookies: string[] }
  | { order: 'move'; moving: number }
  | { order: 'report' };
export type CrowdReport = { joined: number } | { moving: number[]; settled: number[]; pointerMessages: number };

/** The people of a meeting in a process of their own: they listen, and some of them move their pointers. */
const MOVE_MS = 62;
const sockets: Socket[] = [];
let mover: NodeJS.Timeout | undefined;
let moving: number[] = [];
let settled: number[] = [];
let pointerMessages = 0;

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
  socket.on('pointers', () => pointerMessages++);
  return socket;
}

process.on('message', (message: CrowdOrder) => void follow(message));
process.on('disconnect', () => process.exit(0));

async function follow(message: CrowdOrder): Promise<void> {
  if (message.order === 'join') {
    for (const cookie of message.cookies) sockets.push(await join(message.url, message.meeting, cookie));
    process.send!({ joined: sockets.length } satisfies CrowdReport);
  } else if (message.order === 'move') {
    clearInterval(mover);
    moving = [];
    settled = [];
    pointerMessages = 0;
    // Everybody in their own moment, as people are.
    let next = 0;
    const movers = sockets.slice(0, message.moving);
    if (movers.length === 0) return;
    mover = setInterval(() => {
      for (const end = next + movers.length / MOVE_MS; next < end; next++)
        movers[Math.floor(next) % movers.length]!.volatile.emit('pointer', { point: [next % 50, 1.234, 2.345] });
    }, 1);
  } else {
    process.send!({ moving, settled, pointerMessages } satisfies CrowdReport);
  }
}
