import fc from 'fast-check';
import { expect, it } from 'vitest';
import { DisjointSets } from './disjoint-sets';

it('are those that a search along the joins finds', () => {
  const joins = fc.array(fc.tuple(fc.nat(11), fc.nat(11)), { maxLength: 15 });
  fc.assert(
    fc.property(joins, (pairs) => {
      const sets = new DisjointSets(12);
      for (const [a, b] of pairs) sets.join(a, b);
      const reached = (from: number): Set<number> => {
        const seen = new Set([from]);
        for (const at of seen)
          for (const [a, b] of pairs) {
            if (a === at) seen.add(b);
            if (b === at) seen.add(a);
          }
        return seen;
      };
      for (let i = 0; i < 12; i++)
        for (let j = 0; j < 12; j++) expect(sets.find(i) === sets.find(j)).toBe(reached(i).has(j));
    }),
  );
});
