import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { SHOWN, type HintBridge, type MeetingHints } from './hints';

const CHANNEL = 'yurta_hints';
const RETRY_MS = 1000;
/** What takes longer shows nobody anything any more. */
const PATIENCE_MS = 4000;
/** A notification holds 8 000 bytes. */
const MOST_BYTES = 7900;

interface Batch {
  node: string;
  hints: MeetingHints[];
}

/**
 * Carries hints between nodes by PostgreSQL's NOTIFY, on a connection of its own, so that nothing that matters ever waits
 * behind them. What does not get through is not sent again: newer hints follow.
 */
export class PostgresHintBridge implements HintBridge {
  private readonly node = randomUUID();
  private client: pg.Client | null = null;
  private isReady = false;
  private isSending = false;
  private stopped = false;

  constructor(private readonly onHints: (hints: MeetingHints[]) => void) {
    this.open();
  }

  send(hints: MeetingHints[]): boolean {
    if (!this.isReady || !this.client) return true; // nobody can be told, and later it would be too late
    if (this.isSending) return false;
    const payloads = this.payloads(hints);
    const { client } = this;
    this.isSending = true;
    Promise.all(payloads.map((payload) => client.query('select pg_notify($1, $2)', [CHANNEL, payload])))
      .catch(() => this.reopen(client))
      .finally(() => (this.isSending = false));
    return true;
  }

  stop(): void {
    this.stopped = true;
    void this.client?.end();
  }

  /** As few notifications as hold everything; a meeting whose hints are too long alone is told in parts. */
  private payloads(hints: MeetingHints[]): string[] {
    const pack = (some: MeetingHints[]) => JSON.stringify({ node: this.node, hints: some } satisfies Batch);
    const fits = (payload: string) => Buffer.byteLength(payload) <= MOST_BYTES;
    const whole = pack(hints);
    if (fits(whole)) return [whole];
    if (hints.length > 1) {
      const half = Math.ceil(hints.length / 2);
      return [...this.payloads(hints.slice(0, half)), ...this.payloads(hints.slice(half))];
    }
    const { meeting, moving, growing = [], ...shown } = hints[0]!;
    const parts: MeetingHints[] = moving ? [{ meeting, moving }] : [];
    for (const one of growing) parts.push({ meeting, growing: [one] });
    const SHARE = 30;
    for (const what of SHOWN) {
      const people = Object.entries(shown[what] ?? {});
      for (let at = 0; at < people.length; at += SHARE)
        parts.push({ meeting, [what]: Object.fromEntries(people.slice(at, at + SHARE)) });
    }
    return parts.map((part) => pack([part])).filter(fits);
  }

  private open(): void {
    const client = new pg.Client({
      connectionString: process.env.DATABASE_URL,
      application_name: 'yurta hints',
      connectionTimeoutMillis: PATIENCE_MS,
      query_timeout: PATIENCE_MS,
    });
    this.client = client;
    client.on('error', () => this.reopen(client));
    client.on('end', () => this.reopen(client));
    client.on('notification', ({ payload }) => {
      const { node, hints } = JSON.parse(payload ?? '{}') as Batch;
      if (node !== this.node) this.onHints(hints);
    });
    client
      .connect()
      .then(() => client.query(`listen ${CHANNEL}`))
      .then(() => (this.isReady = client === this.client))
      .catch(() => this.reopen(client));
  }

  /** Once for each connection that broke. */
  private reopen(client: pg.Client): void {
    if (client !== this.client || this.stopped) return;
    this.client = null;
    this.isReady = false;
    client.end().catch(() => undefined);
    setTimeout(() => this.stopped || this.open(), RETRY_MS);
  }
}
