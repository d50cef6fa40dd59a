import pg from 'pg';
import type { Server } from 'socket.io';
import { LIVE_CHANNEL, meetingRoom, personRoom, projectRoom, SHOWN_CHANGES, type LiveNotice } from '@/server/broadcast';
import { lastEvent, settledEvent } from '@/server/review/meeting-log';

const RETRY_MS = 1000;
/** So often the connection is asked whether it still hears. */
const HEARTBEAT_MS = 5000;
/** An answer that takes longer does not come any more. */
const PATIENCE_MS = 4000;

/**
 * Passes what any process announced on to this node's browsers, in order. Listens on a connection of its own. When that breaks,
 * is silent, or something could not be passed on, it is opened again, and what may have been missed is made up for.
 *
 * @param onAccessChanged called where somebody's right to a project may have ended
 * @returns how to stop listening
 */
export function passOnNotices(io: Server, onAccessChanged: (projectId: string) => Promise<void>): () => void {
  let tail = Promise.resolve();
  let stopped = false;
  let current: pg.Client | null = null;
  let wasOpen = false;
  const open = (): void => {
    const client = new pg.Client({
      connectionString: process.env.DATABASE_URL,
      application_name: 'yurta live notices',
      connectionTimeoutMillis: PATIENCE_MS,
      query_timeout: PATIENCE_MS,
    });
    current = client;
    let failed = false;
    const again = (error?: Error): void => {
      clearInterval(heartbeat);
      if (failed || stopped) return;
      failed = true;
      process.stderr.write(`live notices broke off${error ? `: ${error.message}` : ''}; trying again\n`);
      client.end().catch(() => undefined);
      setTimeout(open, RETRY_MS);
    };
    client.on('error', again);
    client.on('end', () => again());
    client.on('notification', ({ payload }) => {
      tail = tail.then(() => pass(io, JSON.parse(payload ?? '{}') as LiveNotice, onAccessChanged)).catch(again);
    });
    const heartbeat = setInterval(() => void client.query('select 1').catch(again), HEARTBEAT_MS);
    client
      .connect()
      .then(() => client.query(`listen ${LIVE_CHANNEL}`))
      .then(() => {
        if (wasOpen) tail = tail.then(() => catchUp(io, onAccessChanged)).catch(again);
        wasOpen = true;
      })
      .catch(again);
  };
  open();
  return () => {
    stopped = true;
    void current?.end();
  };
}

async function pass(
  io: Server,
  notice: LiveNotice,
  onAccessChanged: (projectId: string) => Promise<void>,
): Promise<void> {
  if (notice.kind === 'project') {
    if (notice.event === 'access-changed') return onAccessChanged(notice.projectId);
    io.local.to(projectRoom(notice.projectId)).emit(notice.event, { projectId: notice.projectId });
    return;
  }
  if (notice.kind === 'began') return catchUp(io, onAccessChanged);
  if (notice.kind === 'person') {
    io.local.to(personRoom(notice.userId)).emit('notices-changed', {});
    return;
  }
  const room = meetingRoom(notice.meetingId);
  if (!io.of('/').adapter.rooms.has(room)) return;
  const event = await settledEvent(notice.meetingId, notice.seq);
  if (event) io.local.to(room).emit('settled', event);
}

/**
 * Makes up for what may have been announced while nobody listened: everything about a project is asked anew, and the last
 * event of a meeting shows everybody in it whether they have missed one. What fails for one room does not keep others from it.
 *
 * @throws Error of the first room that could not be told
 */
async function catchUp(io: Server, onAccessChanged: (projectId: string) => Promise<void>): Promise<void> {
  const errors: unknown[] = [];
  for (const room of io.of('/').adapter.rooms.keys())
    await catchUpRoom(io, room, onAccessChanged).catch((error: unknown) => errors.push(error));
  if (errors.length > 0) throw errors[0];
}

async function catchUpRoom(
  io: Server,
  room: string,
  onAccessChanged: (projectId: string) => Promise<void>,
): Promise<void> {
  const [kind, id] = room.split(':');
  if (kind === 'project') {
    await onAccessChanged(id!);
    for (const event of SHOWN_CHANGES) io.local.to(room).emit(event, { projectId: id });
  } else if (kind === 'person') io.local.to(room).emit('notices-changed', {});
  else if (kind === 'meeting') {
    const event = await lastEvent(id!);
    if (event) io.local.to(room).emit('settled', event);
  }
}
