import { io, type Socket } from 'socket.io-client';
import { isAway, messageOf, Refusal } from './api';

type Answer<T> = ({ ok: true } & T) | { ok: false; status: number; message: string };

/** The server's word for somebody whom it does not know (any more). */
const SIGNED_OUT = 'signed-out';
const RETRY_MS = 1000;
/** The server gives an act up a little earlier than this. */
const PATIENCE_MS = 5000;
/** Hints that may wait together for their turn; a person makes a few kinds at once. */
const MOST_WAITING = 8;
const ASKING_AGAIN = 'The server does not answer just now. What you see stays; it is asked again by itself.';
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

  /**
   * Runs now and after every reconnection, again and again where the server is away, until it is done.
   *
   * @param onTrouble is told what went wrong, and nothing once it is over
   * @returns how to end that
   */
  onConnect(work: () => Promise<unknown>, onTrouble: (text: string) => void): () => void {
    let retry: ReturnType<typeof setTimeout> | undefined;
    let isTroubled = false;
    const run = () => {
      clearTimeout(retry);
      work().then(
        () => {
          if (isTroubled) onTrouble('');
          isTroubled = false;
        },
        (error: unknown) => {
          isTroubled = true;
          onTrouble(isAway(error) ? ASKING_AGAIN : messageOf(error));
          if (isAway(error) && this.socket.connected) retry = setTimeout(run, RETRY_MS);
        },
      );
    };
    this.socket.on('connect', run);
    if (this.socket.connected) run();
    return () => {
      clearTimeout(retry);
      this.socket.off('connect', run);
    };
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

  /** @throws Refusal with the server's reason, that there was no answer, or that the message is too long for the line */
  async ask<T>(event: string, payload: object): Promise<T> {
    if (JSON.stringify(payload).length > MOST_LETTERS)
      throw new Refusal(
        413,
        'That names too many elements one by one for the others to see it. Choose whole branches.',
      );
    // What waited for the line would come before one has joined anything again.
    if (!this.socket.connected) throw noAnswer();
    const answer = (await this.socket
      .timeout(PATIENCE_MS)
      .emitWithAck(event, payload)
      .catch(() => {
        throw noAnswer();
      })) as Answer<T>;
    if (!answer.ok) throw new Refusal(answer.status, answer.message);
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

function noAnswer(): Refusal {
  return new Refusal(0, 'The server does not answer just now. What you see stays; try again in a moment.');
}
