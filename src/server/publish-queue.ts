import PgBoss from 'pg-boss';
import { config } from './config';

const QUEUE = 'publish';

interface PublishJob {
  revisionId: string;
}

const shared = globalThis as typeof globalThis & { yurtaBoss?: Promise<PgBoss> };

/** The queue, opened on first use in this process. */
export function queue(): Promise<PgBoss> {
  shared.yurtaBoss ??= (async () => {
    const boss = new PgBoss({ connectionString: process.env.DATABASE_URL!, max: 4 });
    boss.on('error', (error) => process.stderr.write(`queue: ${error.message}\n`));
    await boss.start();
    await boss.createQueue(QUEUE, {
      name: QUEUE,
      retryLimit: 2,
      retryDelay: 2,
      expireInSeconds: Math.ceil(config().jobMinutes * 60) + 60,
    });
    return boss;
  })();
  return shared.yurtaBoss;
}

export async function enqueue(revisionId: string): Promise<void> {
  await (await queue()).send(QUEUE, { revisionId } satisfies PublishJob);
}

/** Hands every queued revision to `work` until the process ends. One at a time; more workers are more processes. */
export async function workOnQueue(work: (revisionId: string) => Promise<void>): Promise<void> {
  await (
    await queue()
  ).work<PublishJob>(QUEUE, { pollingIntervalSeconds: 0.5 }, async ([job]) => {
    if (job) await work(job.data.revisionId);
  });
}
