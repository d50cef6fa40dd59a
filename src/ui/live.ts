import { io, type Socket } from 'socket.io-client';

type Answer<T> = ({ ok: true } & T) | { ok: false; message: string };

/** The server's word for somebody whom it does not know (any more). */
const SIGNED_OUT = 'signed-out';
const RETRY_MS = 1000;
/** Hints that may wait together for their turn; a person makes a few kinds at once. */
const MOST_WAITING = 8;
/** The server ends a connection on which more comes at once. */
const MOST_LETTERS = 3_500_000;

/** The page's live connection; comes back by itself when it breaks. */
export class Live {
  private readonly socket: Socket = io({
    path: '/live',
    transports: ['websocket'],
    reconnectionDelay: 300,
    reconnectionDelayMax: 2000,
  });

  constructor() {
    // Refused for the moment, such as while the database restarts: the socket would not try again by itself.
    this.socket.on('connect_error', (error) => {
      if (!this.socket.active && error.message !== SIGNED_OUT) setTimeout(() => this.socket.connect(), RETRY_MS);
    });
  }

  /** Runs now and after every reconnection. Returns how to end that. */
  onConnect(work: () => void): () => void {
    this.socket.on('connect', work);
    if (this.socket.connected) work();
    return () => this.socket.off('connect', work);
  }

  /** Runs when this person may not listen any more: signed out, invitation withdrawn, meeting over. */
  onEnded(work: () => void): void {
    this.socket.on('access-ended', work);
    this.socket.on('connect_error', (error) => {
      if (error.message === SIGNED_OUT) work();
    });
  }

  onDisconnect(work: () => void): void {
    this.socket.on('disconnect', work);
  }

  /** Returns how to stop listening. */
  on<T>(event: string, listener: (payload: T) => void): () => void {
    this.socket.on(event, listener as (payload: unknown) => void);
    return () => this.socket.off(event, listener as (payload: unknown) => void);
  }

  /** @throws Error with the server's reason, or that the message is too long for the line */
  async ask<T>(event: string, payload: object): Promise<T> {
    if (JSON.stringify(payload).length > MOST_LETTERS)
      throw new Error('That names too many elements one by one for the others to see it. Choose whole branches.');
    const answer = (await this.socket
      .timeout(10_000)
      .emitWithAck(event, payload)
      .catch(() => {
        throw new Error('The server did not answer in time. What you see stays as it is; try again in a moment.');
      })) as Answer<T>;
    if (!answer.ok) throw new Error(answer.message);
    return answer;
  }

  /** Sends what may get lost: nothing while the line is down, or where what was said before has not left yet. */
  hint(event: string, payload: object): void {
    if (this.socket.connected && this.socket.io.engine.writeBuffer.length < MOST_WAITING)
      this.socket.emit(event, payload);
  }

  close(): void {
    this.socket.close();
  }
}
