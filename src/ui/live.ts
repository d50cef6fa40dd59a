import { io, type Socket } from 'socket.io-client';

type Answer<T> = ({ ok: true } & T) | { ok: false; message: string };

/** The page's live connection; comes back by itself when it breaks. */
export class Live {
  private readonly socket: Socket = io({
    path: '/live',
    transports: ['websocket'],
    reconnectionDelay: 300,
    reconnectionDelayMax: 2000,
  });

  /** Runs now and after every reconnection. */
  onConnect(work: () => void): void {
    this.socket.on('connect', work);
    if (this.socket.connected) work();
  }

  onDisconnect(work: () => void): void {
    this.socket.on('disconnect', work);
  }

  on<T>(event: string, listener: (payload: T) => void): void {
    this.socket.on(event, listener as (payload: unknown) => void);
  }

  /** @throws Error with the server's reason */
  async ask<T>(event: string, payload: object): Promise<T> {
    const answer = (await this.socket.timeout(10_000).emitWithAck(event, payload)) as Answer<T>;
    if (!answer.ok) throw new Error(answer.message);
    return answer;
  }

  /** Sends what may get lost. */
  hint(event: string, payload: object): void {
    if (this.socket.connected) this.socket.volatile.emit(event, payload);
  }

  close(): void {
    this.socket.close();
  }
}
