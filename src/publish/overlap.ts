/**
 * Works through a list with several items under way at once, so that what waits for another thread (packing, disk)
 * does not hold up what computes. Ends with the first error.
 */
export async function overlap<T>(items: readonly T[], width: number, work: (item: T) => Promise<void>): Promise<void> {
  let next = 0;
  const lane = async () => {
    while (next < items.length) await work(items[next++]!);
  };
  await Promise.all(Array.from({ length: Math.min(width, items.length) }, lane));
}
