import PgBoss from 'pg-boss';
import { v5 as uuidv5 } from 'uuid';
import { config } from '../config';

const PUBLISH = 'publish';
const MAIL = 'mail';
const TAKE = 'take';

interface PublishJob {
  revisionId: string;
}

/**
 * What a mail is about: something under the bell, something that somebody is to do, a reminder of it, minutes, a comment
 * that names somebody, an approval that somebody is asked for, what was done in a day, or a new key to one's account.
 */
export type MailJob =
  | { noticeId: string }
  | { assignment: string; by: string }
  | { reminder: string }
  | { minutes: string; to: string }
  | { mention: string; to: string; by: string }
  | { approver: string }
  | { daily: string; since: string }
  | { account: string; change: AccountChange };

/** What an account's owner is told of, in case it was somebody else. */
export type AccountChange = 'password' | 'token';

/** Names of mails that are sent once become the ids of their jobs. */
const ONCE = '5d0d7a52-7d0b-4f0e-9a53-0c8f4a4a7c1e';

interface TakeJob {
  sourceId: string;
  userId: string;
}

const shared = globalThis as typeof globalThis & { yurtaBoss?: Promise<PgBoss> };

/** The queues, opened on first use in this process. */
export function queue(): Promise<PgBoss> {
  shared.yurtaBoss ??= (async () => {
    const boss = new PgBoss({ connectionString: process.env.DATABASE_URL!, max: 4 });
    boss.on('error', (error) => process.stderr.write(`queue: ${error.message}\n`));
    await boss.start();
    await boss.createQueue(PUBLISH, {
      name: PUBLISH,
      retryLimit: 2,
      retryDelay: 2,
      expireInSeconds: Math.ceil(config().jobMinutes * 60) + 60,
    });
    // A mail server that is down for a day gets its mail when it is back.
    await boss.createQueue(MAIL, { name: MAIL, retryLimit: 12, retryDelay: 15, retryBackoff: true });
    // What goes wrong stands on the source, where a person tries again.
    await boss.createQueue(TAKE, { name: TAKE, retryLimit: 2, retryDelay: 5, expireInSeconds: 60 * 60 });
    return boss;
  })();
  // Where the database was away, the next one who asks tries again.
  shared.yurtaBoss.catch(() => (shared.yurtaBoss = undefined));
  return shared.yurtaBoss;
}

export async function enqueue(revisionId: string): Promise<void> {
  await (await queue()).send(PUBLISH, { revisionId } satisfies PublishJob);
}

/** Hands every queued revision to `work` until the process ends. One at a time; more workers are more processes. */
export async function workOnQueue(work: (revisionId: string) => Promise<void>): Promise<void> {
  await (
    await queue()
  ).work<PublishJob>(PUBLISH, { pollingIntervalSeconds: 0.5 }, async ([job]) => {
    if (job) await work(job.data.revisionId);
  });
}

/** Asks for a mail after a while: of a notice, if it was not seen until then. @param once a name under which it is sent once */
export async function enqueueMail(mail: MailJob, afterSeconds: number, once?: string): Promise<void> {
  const options = once === undefined ? {} : { id: uuidv5(once, ONCE) };
  await (await queue()).send(MAIL, mail, { startAfter: afterSeconds, ...options });
}

/** Hands every mail that is due to `send`; one that throws is tried again later, less and less often. */
export async function workOnMail(send: (mail: MailJob) => Promise<void>): Promise<void> {
  await (
    await queue()
  ).work<MailJob>(MAIL, { pollingIntervalSeconds: 1 }, async ([job]) => {
    if (job) await send(job.data);
  });
}

/** Asks for the newest version of a model store's file to be taken, as the work of an account. */
export async function enqueueTaking(sourceId: string, userId: string): Promise<void> {
  await (await queue()).send(TAKE, { sourceId, userId } satisfies TakeJob);
}

/** Hands every source that is due to `take`. */
export async function workOnTaking(take: (sourceId: string, userId: string) => Promise<void>): Promise<void> {
  await (
    await queue()
  ).work<TakeJob>(TAKE, { pollingIntervalSeconds: 0.5 }, async ([job]) => {
    if (job) await take(job.data.sourceId, job.data.userId);
  });
}
