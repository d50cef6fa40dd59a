import { expect, it } from 'vitest';
import { revisionsThen } from './revisions-then';

const at = (minute: number) => new Date(Date.UTC(2026, 10, 1, 10, minute));
const one = (id: string, modelId: string, number: number, minute: number, withdrawn: number | null = null) => ({
  id,
  modelId,
  number,
  publishedAt: at(minute),
  withdrawnAt: withdrawn === null ? null : at(withdrawn),
});

it('names the newest revision of each model that stood then, and every turn on the way', () => {
  const all = [one('a1', 'a', 1, 0), one('a2', 'a', 2, 10, 20), one('b1', 'b', 1, 30), one('a3', 'a', 3, 50)];
  expect(revisionsThen(all, at(5), at(40))).toEqual([
    { at: at(5).toISOString(), ids: ['a1'] },
    { at: at(10).toISOString(), ids: ['a2'] },
    { at: at(20).toISOString(), ids: ['a1'] }, // taken back: the one before it shows again
    { at: at(30).toISOString(), ids: ['a1', 'b1'] },
  ]);
  expect(revisionsThen(all, at(45), at(48))).toEqual([{ at: at(45).toISOString(), ids: ['a1', 'b1'] }]);
});
