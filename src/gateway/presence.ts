import { meetingRoom } from '@/server/broadcast';
import { meetingState, settle } from '@/server/review/meeting-log';
import type { LiveServer, LiveSocket } from './live-server';

/** A person whose connection breaks is still there for this long. */
const GRACE_MS = 4000;
const SWEEP_MS = 15_000;

/** Lets the meeting know when somebody's last connection is gone. */
export function leaveWhenGone(io: LiveServer, socket: LiveSocket): void {
  socket.on('disconnect', () => {
    const { meeting, actor } = socket.data;
    if (meeting) setTimeout(() => void leaveIfGone(io, meeting.id, actor.id), GRACE_MS);
  });
}

/** From time to time marks as gone those whose node went down without saying so. Returns how to stop. */
export function sweepPresence(io: LiveServer): () => void {
  const sweep = setInterval(() => {
    const meetings = new Set([...io.of('/').sockets.values()].flatMap((socket) => socket.data.meeting?.id ?? []));
    for (const id of meetings) {
      void guarded(async () => {
        const { participants } = await meetingState(id);
        for (const person of participants) if (person.present) await leaveIfGone(io, id, person.id);
      });
    }
  }, SWEEP_MS);
  return () => clearInterval(sweep);
}

function leaveIfGone(io: LiveServer, meetingId: string, participant: string): Promise<void> {
  return guarded(async () => {
    const sockets = await io.in(meetingRoom(meetingId)).fetchSockets();
    if (sockets.some((other) => other.data.actor.id === participant)) return;
    const state = await meetingState(meetingId);
    if (state.endedAt || !state.participants.some((person) => person.id === participant && person.present)) return;
    await settle(meetingId, null, { type: 'left', participant });
  });
}

/** Presence is repaired by the next sweep; a database that is restarting must not end the node. */
async function guarded(work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    process.stderr.write(`presence not updated: ${error instanceof Error ? error.message : String(error)}\n`);
  }
}
