/**
 * Work of which one run goes on at a time: whoever asks meanwhile gets the run after it, however many ask. So what is
 * asked for often is not asked for more often than it is answered, and the last answer is the newest.
 *
 * @returns begins a run, or joins the one that has not begun yet; its promise ends as that run does
 */
export function oneAtATime(work: () => Promise<void>): () => Promise<void> {
  let last: Promise<void> = Promise.resolve();
  let waiting: Promise<void> | null = null;
  const begin = () => {
    waiting = null;
    return work();
  };
  return () => (waiting ??= last = last.then(begin, begin));
}
