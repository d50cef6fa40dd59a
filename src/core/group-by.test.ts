import { expect, it } from 'vitest';
import { groupBy } from './group-by';

it('keeps every item, in order, under what it belongs to', () => {
  expect([...groupBy(['ab', 'c', 'ad', 'c'], (word) => word[0])]).toEqual([
    ['a', ['ab', 'ad']],
    ['c', ['c', 'c']],
  ]);
  expect(groupBy([], String).size).toBe(0);
});
