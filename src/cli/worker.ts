import { practiceIfc } from '@/demo/practice';
import { queue } from '@/server/publishing/queue';
import { warnOfEndingLinks } from '@/server/access/links';
import { remindOfActions } from '@/server/review/comment-changes';
import { handOverMinutes } from '@/server/mail/minutes';
import { startWorker } from '@/server/publishing/publish-worker';
import { removeAbandonedWork } from '@/server/storage/work-folder';
import { removeAbandonedUploads } from '@/server/publishing/uploads';

const TIDY_MS = 60 * 60 * 1000;
const MINUTES_MS = 2000;

/** Works on queued publications until told to end; a job in progress goes back to the queue. */
export async function runWorker(): Promise<void> {
  await startWorker(practiceIfc);
  const tidy = () =>
    void Promise.all([removeAbandonedUploads(), removeAbandonedWork(), warnOfEndingLinks(), remindOfActions()]).catch(
      (error: Error) => console.error(`tidying up: ${error.message}`),
    );
  tidy();
  setInterval(tidy, TIDY_MS);
  setInterval(() => {
    handOverMinutes().catch((error: Error) => console.error(`minutes: ${error.message}`));
  }, MINUTES_MS);
  console.log('waiting for models to publish');
  const stop = () =>
    void queue()
      .then((boss) => boss.stop({ graceful: false, wait: false }))
      .finally(() => process.exit(0));
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
}
