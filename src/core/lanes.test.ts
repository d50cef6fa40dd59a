import { expect, it } from 'vitest';
import { inLanes } from './lanes';

const tick = () => new Promise((resolve) => setTimeout(resolve, 1));

it('has so many under way at once, in their order, and all done at the end', async () => {
  const begun: number[] = [];
  const done: number[] = [];
  let most = 0;
  await inLanes([0, 1, 2, 3, 4, 5, 6], 3, async (item) => {
    begun.push(item);
    most = Math.max(most, begun.length - done.length);
    for (let i = 0; i <= item % 3; i++) await tick();
    done.push(item);
  });
  expect(most).toBe(3);
  expect(begun).toEqual([0, 1, 2, 3, 4, 5, 6]);
  expect(done.sort()).toEqual(begun);
});

it('begins nothing after an error, and throws it once what was under way has ended', async () => {
  const begun: number[] = [];
  const done: number[] = [];
  const work = inLanes([0, 1, 2, 3, 4], 2, async (item) => {
    begun.push(item);
    if (item === 1) throw new Error('the disk is full');
    await tick();
    done.push(item);
  });
  await expect(work).rejects.toThrow('the disk is full');
  expect(begun).toEqual([0, 1]);
  expect(done).toEqual([0]);
});
