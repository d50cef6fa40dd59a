import type { IncomingMessage } from 'node:http';
import type { LiveServer } from './live-server';

/** Messages that one connection may send in a second: several times what the quickest hand makes. */
const MOST_MESSAGES = 300;
/** And letters: two messages as long as they may be. */
const MOST_LETTERS = 8_000_000;

/** Cuts off connections that send so much that others would wait, before what they send is even read. */
export function cutOffFloods(io: LiveServer): void {
  io.engine.on('connection', (connection: Connection) => {
    let since = 0;
    let messages = 0;
    let letters = 0;
    connection.on('packet', ({ data }) => {
      const now = performance.now();
      if (now - since > 1000) [since, messages, letters] = [now, 0, 0];
      messages++;
      letters += data?.length ?? 0;
      if (messages > MOST_MESSAGES || letters > MOST_LETTERS) connection.request.socket.destroy();
    });
  });
}

interface Connection {
  request: IncomingMessage;
  on(event: 'packet', listener: (packet: { data?: string | Buffer }) => void): unknown;
}
