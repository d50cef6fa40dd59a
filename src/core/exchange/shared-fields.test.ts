import fc from 'fast-check';
import { expect, it } from 'vitest';
import { mergeFields, SHARED_FIELDS, type SharedFields } from './shared-fields';

const fields: fc.Arbitrary<SharedFields> = fc.record({
  text: fc.constantFrom('a', 'b', 'c'),
  kind: fc.constantFrom('remark', 'action'),
  status: fc.constantFrom('open', 'in-work', 'closed'),
  assignee: fc.constantFrom('', 'x@y.example'),
  dueOn: fc.constantFrom('', '2026-12-24', '2026-12-25'),
  priority: fc.constantFrom('low', 'high'),
  deleted: fc.boolean(),
});
const start: SharedFields = { text: 'a', kind: 'remark', status: 'open', assignee: '', dueOn: '', priority: 'normal', deleted: false }; // prettier-ignore

it('takes over what one side alone has changed', () => {
  const merged = mergeFields(start, { ...start, status: 'closed' }, { ...start, dueOn: '2026-12-24' });
  expect(merged).toEqual({ here: { dueOn: '2026-12-24' }, there: { status: 'closed' }, conflict: {} });
});

it('moves nothing of what both have changed to different things', () => {
  const merged = mergeFields(start, { ...start, text: 'b' }, { ...start, text: 'c', status: 'closed' });
  expect(merged).toEqual({ here: { status: 'closed' }, there: {}, conflict: { text: 'c' } });
});

it('leaves both sides equal wherever there is no conflict, and loses no change', () => {
  fc.assert(
    fc.property(fields, fields, fields, (agreed, here, there) => {
      const merged = mergeFields(agreed, here, there);
      const [nextHere, nextThere] = [
        { ...here, ...merged.here },
        { ...there, ...merged.there },
      ];
      for (const field of SHARED_FIELDS) {
        if (field in merged.conflict) {
          expect([nextHere[field], nextThere[field]]).toEqual([here[field], there[field]]);
          continue;
        }
        expect(nextHere[field]).toBe(nextThere[field]);
        const changed = [here[field], there[field]].find((value) => value !== agreed[field]);
        expect(nextHere[field]).toBe(changed ?? agreed[field]);
      }
    }),
  );
});
