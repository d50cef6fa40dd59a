import { sql } from 'drizzle-orm';
import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from 'prom-client';
import { connection, db } from '@/db/database';
import type { LiveServer } from './live-server';

/** Figures of this node and of the queue, in the format of Prometheus. */
export class Metrics {
  private readonly registry = new Registry();
  private readonly requests = new Counter({
    name: 'yurta_http_requests_total',
    help: 'Requests answered, by method and status',
    labelNames: ['method', 'status'],
    registers: [this.registry],
  });
  private readonly seconds = new Histogram({
    name: 'yurta_http_request_seconds',
    help: 'How long answers took',
    labelNames: ['kind'],
    buckets: [0.005, 0.02, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30],
    registers: [this.registry],
  });

  constructor(live: LiveServer) {
    collectDefaultMetrics({ register: this.registry });
    this.gauge('yurta_sockets', 'Live connections to this node', [], (gauge) => {
      gauge.set(live.of('/').sockets.size);
    });
    this.gauge('yurta_database_connections', 'Connections of the pool, by what they do', ['state'], (gauge) => {
      const { totalCount, idleCount, waitingCount } = connection().pool;
      gauge.set({ state: 'busy' }, totalCount - idleCount);
      gauge.set({ state: 'idle' }, idleCount);
      gauge.set({ state: 'waited for' }, waitingCount);
    });
    this.gauge('yurta_meetings_running', 'Meetings that go on', [], async (gauge) => {
      const { rows } = await db().execute<{ n: number }>(sql`select count(*)::int as n from meetings where ended_at is null`); // prettier-ignore
      gauge.set(rows[0]!.n);
    });
    this.gauge(
      'yurta_publications',
      'Publications that wait, run or are ready to be looked at',
      ['state'],
      async (gauge) => {
        const { rows } = await db().execute<{ state: string; n: number }>(sql`
        select s.state, count(r.id)::int as n from (values ('queued'), ('running'), ('ready')) s (state)
        left join revisions r on r.state = s.state group by s.state`);
        for (const { state, n } of rows) gauge.set({ state }, n);
      },
    );
  }

  /** @param kind of request: page, api, file, upload @param seconds that the answer took */
  answered(method: string, status: number, kind: string, seconds: number): void {
    this.requests.inc({ method, status });
    this.seconds.observe({ kind }, seconds);
  }

  async text(): Promise<{ type: string; text: string }> {
    return { type: this.registry.contentType, text: await this.registry.metrics() };
  }

  private gauge<Label extends string>(
    name: string,
    help: string,
    labelNames: Label[],
    look: (gauge: Gauge<Label>) => void | Promise<void>,
  ): void {
    new Gauge<Label>({
      name,
      help,
      labelNames,
      registers: [this.registry],
      collect() {
        return look(this);
      },
    });
  }
}
