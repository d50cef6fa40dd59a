import fc from 'fast-check';
import { expect, it } from 'vitest';
import { NumberList } from './number-list';

it('holds what was pushed, in order, whatever its memory began with', () => {
  fc.assert(
    fc.property(fc.nat(10), fc.array(fc.array(fc.integer(), { maxLength: 200 })), (room, pushes) => {
      const list = new NumberList(new Int32Array(room));
      for (const numbers of pushes) list.push(...numbers);
      const all = pushes.flat();
      expect(list.length).toBe(all.length);
      expect([...list.values]).toEqual(all);
      all.forEach((number, i) => expect(list.at(i)).toBe(number));
    }),
  );
});

it('takes a stretch of another', () => {
  const list = new NumberList(Int32Array.of(0));
  list.push(7);
  list.append(Int32Array.of(1, 2, 3, 4), 1, 2);
  expect([...list.values]).toEqual([7, 2, 3]);
});

it('rounds as its memory does', () => {
  const list = new NumberList(new Float32Array(0));
  list.push(0.1);
  expect(list.at(0)).toBe(Math.fround(0.1));
});
