import { queue, startWorker } from '@/server/publishing';

/** Works on queued publications until told to end; a job in progress goes back to the queue. */
export async function runWorker(): Promise<void> {
  await startWorker();
  console.log('waiting for models to publish');
  const stop = () =>
    void queue()
      .then((boss) => boss.stop({ graceful: false, wait: false }))
      .finally(() => process.exit(0));
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
}
