import { setTimeout } from 'node:timers/promises';
import { connection } from '@/db/database';
import { practiceIfc } from '@/demo/practice';
import { tellBegun } from '@/server/broadcast';
import { outage } from '@/server/outage';
import { queue } from '@/server/publishing/queue';
import { warnOfEndingLinks } from '@/server/access/links';
import { remindOfActions } from '@/server/review/comment-changes';
import { removeScratch } from '@/publish/conversion/scratch';
import { forgetAnswers } from '@/server/access/answered-requests';
import { forgetTries } from '@/server/access/door-guard';
import { endForgottenMeetings } from '@/server/review/meetings';
import { syncTrackers } from '@/server/exchange/tracker';
import { deliverWebhooks, forgetDeliveries } from '@/server/exchange/webhooks';
import { handOverDailyMails } from '@/server/mail/daily';
import { handOverMinutes } from '@/server/mail/minutes';
import { startWorker } from '@/server/publishing/publish-worker';
import { removeAbandonedWork } from '@/server/storage/work-folder';
import { removeAbandonedUploads } from '@/server/publishing/uploads';

const TIDY_MS = 60 * 60 * 1000;
const DATABASE_MS = 500;
const MINUTES_MS = 2000;
const WEBHOOKS_MS = 1500;
const TRACKERS_MS = 3000;

/** Works on queued publications until told to end; a job in progress goes back to the queue. */
async function work(): Promise<void> {
  await untilDatabaseAnswers();
  await tellBegun();
  await startWorker(practiceIfc);
  removeScratch();
  const tidy = () =>
    void Promise.all([
      removeAbandonedUploads(),
      removeAbandonedWork(),
      warnOfEndingLinks(),
      remindOfActions(),
      forgetDeliveries(),
      forgetAnswers(),
      forgetTries(),
      endForgottenMeetings(),
    ]).catch((error: Error) => console.error(`tidying up: ${error.message}`));
  tidy();
  setInterval(tidy, TIDY_MS);
  every('minutes', MINUTES_MS, handOverMinutes);
  every('webhooks', WEBHOOKS_MS, deliverWebhooks);
  every('trackers', TRACKERS_MS, () => syncTrackers());
  every('daily mails', TIDY_MS / 6, handOverDailyMails);
  console.log('waiting for models to publish');
  const stop = () =>
    void queue()
      .then((boss) => boss.stop({ graceful: false, wait: false }))
      .finally(() => process.exit(0));
  // The queue does not wait for its own notes of what was done; while the database is away, another try of the job notes it.
  process.on('unhandledRejection', (error) => {
    if (!outage(error)) throw error;
    console.error(`a job was not noted: ${String(error)}`);
  });
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
}

/** A worker that is started while the database is away waits for it. */
async function untilDatabaseAnswers(): Promise<void> {
  for (;;)
    try {
      await connection().pool.query('select 1');
      return;
    } catch (error) {
      console.error(`waiting for the database: ${error instanceof Error ? error.message : String(error)}`);
      await setTimeout(DATABASE_MS);
    }
}

/** Does something again and again, one run at a time; what goes wrong is told, and tried again the next time. */
function every(name: string, milliseconds: number, work: () => Promise<unknown>): void {
  let isRunning = false;
  setInterval(() => {
    if (isRunning) return;
    isRunning = true;
    work()
      .catch((error: Error) => console.error(`${name}: ${error.message}`))
      .finally(() => (isRunning = false));
  }, milliseconds);
}

await work();
