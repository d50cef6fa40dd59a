import { expect, it } from 'vitest';
import { oneAtATime } from './one-at-a-time';

/** Work whose runs end when they are told to. */
function heldWork() {
  const ends: { done: () => void; fail: (error: Error) => void }[] = [];
  const work = () => new Promise<void>((done, fail) => ends.push({ done, fail }));
  return { ends, work };
}

const turn = () => new Promise((done) => setTimeout(done));

it('runs once more for all who asked while it ran, after that run has ended', async () => {
  const { ends, work } = heldWork();
  const ask = oneAtATime(work);
  const first = ask();
  await turn();
  const later = [ask(), ask(), ask()];
  await turn();
  expect(ends.length).toBe(1);
  ends[0]!.done();
  await first;
  await turn();
  expect(ends.length).toBe(2);
  ends[1]!.done();
  await Promise.all(later);
  await turn();
  expect(ends.length).toBe(2);
});

it('tells a failure to those who asked for that run, and goes on', async () => {
  const { ends, work } = heldWork();
  const ask = oneAtATime(work);
  const first = ask();
  await turn();
  const second = ask();
  ends[0]!.fail(new Error('no answer'));
  await expect(first).rejects.toThrow('no answer');
  await turn();
  ends[1]!.done();
  await second;
});
