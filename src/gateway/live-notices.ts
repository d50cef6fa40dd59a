import pg from 'pg';
import type { Server } from 'socket.io';
import { LIVE_CHANNEL, meetingRoom, projectRoom, type LiveNotice } from '@/server/broadcast';
import { eventsAfter } from '@/server/meetings';

const RETRY_MS = 1000;

/**
 * Passes what any process announced on to this node's browsers, in order. Listens on a connection of its own and opens
 * it again when the database restarts; browsers that missed something notice the gap in the numbers.
 */
export function passOnNotices(io: Server): void {
  let tail = Promise.resolve();
  const open = (): void => {
    const client = new pg.Client({ connectionString: process.env.DATABASE_URL });
    let failed = false;
    const again = (error?: Error): void => {
      if (failed) return;
      failed = true;
      process.stderr.write(`live notices broke off${error ? `: ${error.message}` : ''}; trying again\n`);
      client.end().catch(() => undefined);
      setTimeout(open, RETRY_MS);
    };
    client.on('error', again);
    client.on('end', () => again());
    client.on('notification', ({ payload }) => {
      tail = tail
        .then(() => pass(io, JSON.parse(payload ?? '{}') as LiveNotice))
        .catch((error: unknown) => void process.stderr.write(`notice not passed on: ${String(error)}\n`));
    });
    client
      .connect()
      .then(() => client.query(`listen ${LIVE_CHANNEL}`))
      .catch(again);
  };
  open();
}

async function pass(io: Server, notice: LiveNotice): Promise<void> {
  if (notice.kind === 'project') {
    io.local.to(projectRoom(notice.projectId)).emit(notice.event, { projectId: notice.projectId });
    return;
  }
  const room = meetingRoom(notice.meetingId);
  if (!io.of('/').adapter.rooms.has(room)) return;
  const event = (await eventsAfter(notice.meetingId, notice.seq - 1))[0];
  if (event) io.local.to(room).emit('settled', event);
}
