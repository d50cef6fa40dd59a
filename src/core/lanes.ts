/**
 * Works through a list with several items under way at once, so that what waits for another thread (packing, disk)
 * does not hold up what computes. After an error nothing more is begun; it is thrown once all that was under way has ended.
 */
export async function inLanes<T>(items: readonly T[], lanes: number, work: (item: T) => Promise<void>): Promise<void> {
  let next = 0;
  const lane = async () => {
    try {
      while (next < items.length) await work(items[next++]!);
    } catch (error) {
      next = items.length;
      throw error;
    }
  };
  const ends = await Promise.allSettled(Array.from({ length: Math.min(lanes, items.length) }, lane));
  const failed = ends.find((end) => end.status === 'rejected');
  if (failed) throw failed.reason;
}
