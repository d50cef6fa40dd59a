import type { IncomingMessage } from 'node:http';
import { networkOf } from '@/server/access/door-guard';
import type { LiveServer } from './live-server';

/** Connections from one network that have not said yet who they are; a whole office that comes back at once has fewer. */
const MOST_STRANGERS = 300;
/** A browser says who it is with its first message. Who has not after so long is cut off: asked to close, such a one would not. */
const INTRODUCTION_MS = 5000;

/** Keeps those who open connections and never say who they are from filling a node's memory. */
export class Strangers {
  private readonly counts = new Map<string, number>();

  /** Whether one more may connect. */
  mayCome(request: IncomingMessage): boolean {
    return (this.counts.get(networkFrom(request)) ?? 0) < MOST_STRANGERS;
  }

  /** Counts every connection until it is known or gone. */
  watch(io: LiveServer): void {
    const known = new WeakMap<object, () => void>();
    io.engine.on('connection', (connection: Connection) => {
      const network = networkFrom(connection.request);
      this.counts.set(network, (this.counts.get(network) ?? 0) + 1);
      const timer = setTimeout(() => connection.request.socket.destroy(), INTRODUCTION_MS);
      let isCounted = true;
      const forget = () => {
        if (!isCounted) return;
        isCounted = false;
        clearTimeout(timer);
        const left = this.counts.get(network)! - 1;
        if (left > 0) this.counts.set(network, left);
        else this.counts.delete(network);
      };
      known.set(connection, forget);
      connection.once('close', forget);
    });
    io.on('connection', (socket) => known.get(socket.conn)?.());
  }
}

interface Connection {
  request: IncomingMessage;
  once(event: 'close', listener: () => void): unknown;
}

/** @see setClientAddress, which has noted the address before anybody may connect */
function networkFrom(request: IncomingMessage): string {
  return networkOf(String(request.headers['x-forwarded-for']));
}
