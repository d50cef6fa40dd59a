import { expect, it } from 'vitest';
import type { MinutesContent } from './minutes-content';
import { writeBeside } from './minutes-workshop';

const at = new Date('2026-11-26T14:00:00Z');
const CONTENT = {
  meeting: { title: 'Design review', startedAt: at, endedAt: at },
  project: { name: 'Town library', place: 'Lindenau' },
  foreword: '',
  present: [],
  shown: [],
  said: [],
  revisions: [],
  snapshots: [],
} as unknown as MinutesContent;

it('one after the other, each collected when it is its turn; one that fails keeps nobody from theirs; not without end', async () => {
  let collecting = 0;
  let most = 0;
  const collect = async () => {
    most = Math.max(most, ++collecting);
    await new Promise((go) => setTimeout(go, 1));
    collecting--;
    return CONTENT;
  };
  const orders = Array.from({ length: 41 }, (_, i) =>
    writeBeside(i === 1 ? () => Promise.reject(new Error('away')) : collect, 'http://localhost/'),
  );
  const results = await Promise.allSettled(orders);
  expect(most).toBe(1);
  expect(results.filter(({ status }) => status === 'fulfilled')).toHaveLength(39);
  expect(results[1]).toMatchObject({ reason: { message: 'away' } });
  expect(results[40]).toMatchObject({ reason: { status: 503 } });
  const [first] = results as [PromiseFulfilledResult<Buffer>];
  expect(first.value.subarray(0, 5).toString()).toBe('%PDF-');
}, 30_000);

it('says why minutes cannot be written, and writes the next', async () => {
  const broken = { ...CONTENT, meeting: null } as unknown as MinutesContent;
  await expect(writeBeside(() => Promise.resolve(broken), '')).rejects.toThrow(/null/);
  expect((await writeBeside(() => Promise.resolve(CONTENT), '')).length).toBeGreaterThan(1000);
});
