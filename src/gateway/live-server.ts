import type { Server, Socket } from 'socket.io';
import type { Actor } from '@/server/access/access';

type Events = Record<string, (...args: unknown[]) => void>;

/** What a node remembers of one live connection. */
export interface LiveData {
  actor: Actor;
  meeting?: { id: string; projectId: string };
}

export type LiveServer = Server<Events, Events, Record<string, never>, LiveData>;
export type LiveSocket = Socket<Events, Events, Record<string, never>, LiveData>;
