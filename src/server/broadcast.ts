import { Emitter } from '@socket.io/postgres-emitter';
import { connection } from '@/db/database';

const shared = globalThis as typeof globalThis & { yurtaEmitter?: Emitter };

export const projectRoom = (projectId: string) => `project:${projectId}`;
export const meetingRoom = (meetingId: string) => `meeting:${meetingId}`;

/** Sends to every browser in a room, whichever node it is connected to; works from any process with the database. */
export function broadcast(room: string, event: string, payload: unknown): void {
  shared.yurtaEmitter ??= new Emitter(connection().pool);
  shared.yurtaEmitter.to(room).emit(event, payload);
}
