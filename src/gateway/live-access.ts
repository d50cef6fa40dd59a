import { actorOf, mayEnter } from '@/server/access/access';
import { projectRoom } from '@/server/broadcast';
import type { LiveServer, LiveSocket } from './live-server';
import { webHeaders } from './web-headers';

const SWEEP_MS = 15_000;

/** Ends the live connections of those whose account session, link, code or membership has ended. */
export class LiveAccess {
  private readonly sweep: NodeJS.Timeout;

  constructor(private readonly io: LiveServer) {
    this.sweep = setInterval(() => void this.check(this.sockets()), SWEEP_MS);
  }

  /** Checks everybody who looks at a project at once, when a right in it was taken back. */
  recheck(projectId: string): Promise<void> {
    return this.check(this.sockets().filter((socket) => socket.rooms.has(projectRoom(projectId))));
  }

  stop(): void {
    clearInterval(this.sweep);
  }

  private sockets(): LiveSocket[] {
    return [...this.io.of('/').sockets.values()];
  }

  private async check(sockets: LiveSocket[]): Promise<void> {
    for (const socket of sockets) {
      try {
        if (await mayStay(socket)) continue;
        socket.emit('access-ended');
        socket.disconnect(true);
      } catch (error) {
        // Asked again by the next sweep; a database that is restarting must not end anybody's access.
        process.stderr.write(`access not checked: ${error instanceof Error ? error.message : String(error)}\n`);
      }
    }
  }
}

async function mayStay(socket: LiveSocket): Promise<boolean> {
  const actor = await actorOf(webHeaders(socket.request));
  if (actor?.id !== socket.data.actor.id) return false;
  for (const room of socket.rooms) {
    const [kind, id] = room.split(':');
    if (kind === 'project' && !(await mayEnter(actor, id!))) return false;
  }
  return true;
}
