import { randomUUID } from 'node:crypto';
import type { MeetingState } from '@/core/meeting/meeting';
import { meetingRoom } from '@/server/broadcast';
import { depart, forgetPresence, presentIn, SAY_MS, sayPresent } from '@/server/review/meeting-presence';
import { meetingState, settle } from '@/server/review/meeting-log';
import { participantFor } from '@/server/review/meetings';
import type { LiveServer, LiveSocket } from './live-server';

/** A person whose connection breaks is still there for this long. */
const GRACE_MS = 4000;
const SWEEP_MS = 3000;
/** After so long without an answer from the database, others have not been able to say that they are there either. */
const SETTLING_MS = 8000;

/** Keeps up who is in which meeting: by connections to this node, and by what other nodes say of theirs. */
export class Presence {
  private readonly node = randomUUID();
  private readonly timers: NodeJS.Timeout[];
  /** Since when this node has been able to say who is there. */
  private since = Date.now();

  constructor(private readonly io: LiveServer) {
    this.timers = [
      setInterval(() => void this.say(), SAY_MS),
      setInterval(() => void guarded(() => this.sweep()), SWEEP_MS),
    ];
  }

  /** Somebody joins a meeting by this connection. */
  async arrive(socket: LiveSocket, meetingId: string): Promise<void> {
    const { id } = socket.data.actor;
    await sayPresent(this.node, [{ meetingId, participant: id }]);
    const { meeting: before } = socket.data;
    if (before && before.id !== meetingId) {
      await socket.leave(meetingRoom(before.id));
      setTimeout(() => void guarded(() => this.leave(before.id, id)), GRACE_MS);
    }
    if (before) return;
    socket.on('disconnect', () => {
      const { meeting } = socket.data;
      if (meeting) setTimeout(() => void guarded(() => this.leave(meeting.id, id)), GRACE_MS);
    });
  }

  stop(): void {
    this.timers.forEach(clearInterval);
  }

  private async say(): Promise<void> {
    try {
      const people = [...this.here()].flatMap(([meetingId, sockets]) =>
        [...sockets.keys()].map((participant) => ({ meetingId, participant })),
      );
      await sayPresent(this.node, people);
    } catch (error) {
      this.since = Date.now();
      tell(error);
    }
  }

  /** The meeting hears that somebody's last connection is gone, wherever it was. */
  private async leave(meetingId: string, participant: string): Promise<void> {
    if (this.here().get(meetingId)?.has(participant)) return;
    await depart(this.node, meetingId, participant);
    if ((await presentIn(meetingId)).has(participant)) return;
    const { endedAt, participants } = await meetingState(meetingId);
    if (endedAt || !participants.some(({ id, present }) => id === participant && present)) return;
    await settle(meetingId, null, { type: 'left', participant });
  }

  /** Marks as gone those whose node went down without saying so, and as there who was taken for gone. */
  private async sweep(): Promise<void> {
    if (Date.now() - this.since < SETTLING_MS) return;
    await forgetPresence();
    for (const [meetingId, sockets] of this.here()) {
      const state = await meetingState(meetingId);
      if (state.endedAt) continue;
      const present = await presentIn(meetingId);
      for (const { id } of state.participants.filter((one) => one.present && !present.has(one.id)))
        await settle(meetingId, null, { type: 'left', participant: id });
      await this.bringBack(meetingId, state, [...sockets.values()]);
    }
  }

  private async bringBack(meetingId: string, { participants }: MeetingState, sockets: LiveSocket[]): Promise<void> {
    for (const { data } of sockets) {
      const known = participants.find(({ id }) => id === data.actor.id);
      if (!known || known.present || !data.meeting) continue;
      const participant = await participantFor(data.actor, data.meeting.projectId);
      await settle(meetingId, null, { type: 'joined', participant });
    }
  }

  /** Connections of this node by meeting and participant. */
  private here(): Map<string, Map<string, LiveSocket>> {
    const meetings = new Map<string, Map<string, LiveSocket>>();
    for (const socket of this.io.of('/').sockets.values()) {
      const { meeting, actor } = socket.data;
      if (!meeting) continue;
      const people = meetings.get(meeting.id) ?? new Map<string, LiveSocket>();
      meetings.set(meeting.id, people.set(actor.id, socket));
    }
    return meetings;
  }
}

/** Presence is repaired by the next sweep; a database that is restarting must not end the node. */
async function guarded(work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    tell(error);
  }
}

function tell(error: unknown): void {
  process.stderr.write(`presence not updated: ${error instanceof Error ? error.message : String(error)}\n`);
}
