import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { COMMENT_KINDS, COMMENT_STATUSES, PRIORITIES, type Comment } from './comment';
import { ALL_COMMENTS, filterComments, GROUPS, groupComments, isOverdue, monthAfter, monthDays, sortComments, SORTS } from './sort-comments'; // prettier-ignore

const comment = (change: Partial<Comment>): Comment => ({
  id: 'a',
  number: 1,
  meetingId: null,
  replyTo: null,
  text: 'Lower the sill',
  author: 'Bo',
  guest: true,
  anchor: null,
  elementName: 'Window 3',
  hasView: false,
  hasPicture: false,
  guid: 'c',
  files: [],
  viewpointId: null,
  confirmedBy: [],
  conflict: null,
  isOwn: false,
  kind: 'remark',
  status: 'open',
  assignee: null,
  dueOn: null,
  priority: 'normal',
  editedAt: null,
  createdAt: '2026-11-01T10:00:00Z',
  ...change,
});
const TODAY = '2026-11-29';
const ALL = [
  comment({ id: 'a', number: 1, kind: 'action', dueOn: '2026-11-20', priority: 'high', assignee: { id: 'm', name: 'Mikko', email: null } }), // prettier-ignore
  comment({ id: 'b', number: 2, kind: 'question', status: 'closed', dueOn: '2026-11-20', meetingId: 'one' }),
  comment({ id: 'c', number: 3, text: 'Why brick?', dueOn: '2026-12-02', author: 'Aino' }),
  comment({ id: 'r', number: null, replyTo: 'c', text: 'Because of the frost' }),
];
const ids = (comments: readonly Comment[]) => comments.map(({ id }) => id);

describe('comments', () => {
  it('are found by kind, state, person, day and words, also of their answers', () => {
    const found = (filter: Partial<typeof ALL_COMMENTS>) => ids(filterComments(ALL, { ...ALL_COMMENTS, ...filter }, TODAY)); // prettier-ignore
    expect(found({})).toEqual(['a', 'b', 'c']);
    expect(found({ kind: 'question' })).toEqual(['b']);
    expect(found({ status: 'not-closed' })).toEqual(['a', 'c']);
    expect(found({ status: 'closed' })).toEqual(['b']);
    expect(found({ priority: 'high' })).toEqual(['a']);
    expect(found({ author: 'Aino' })).toEqual(['c']);
    expect(found({ meeting: 'one' })).toEqual(['b']);
    expect(found({ meeting: '' })).toEqual(['a', 'c']);
    expect(found({ assignee: 'Mikko' })).toEqual(['a']);
    expect(found({ assignee: '' })).toEqual(['b', 'c']);
    expect(found({ due: 'over' })).toEqual(['a']);
    expect(found({ due: 'week' })).toEqual(['a', 'c']);
    expect(found({ words: 'FROST brick' })).toEqual(['c']);
    expect(found({ words: 'window 3' })).toEqual(['a', 'b', 'c']);
    expect(found({ words: 'frost', status: 'closed' })).toEqual([]);
  });

  it('are in order, the newest first where nothing else tells them apart', () => {
    expect(ids(sortComments(filterComments(ALL, ALL_COMMENTS, TODAY), 'number'))).toEqual(['c', 'b', 'a']);
    expect(ids(sortComments(filterComments(ALL, ALL_COMMENTS, TODAY), 'due'))).toEqual(['b', 'a', 'c']);
    expect(ids(sortComments(filterComments(ALL, ALL_COMMENTS, TODAY), 'priority'))).toEqual(['a', 'c', 'b']);
    expect(ids(sortComments(filterComments(ALL, ALL_COMMENTS, TODAY), 'status'))).toEqual(['c', 'a', 'b']);
  });

  it('are late only while they are open', () => {
    expect([isOverdue(ALL[0]!, TODAY), isOverdue(ALL[1]!, TODAY), isOverdue(ALL[0]!, '2026-11-20')]).toEqual([true, false, false]); // prettier-ignore
  });

  it('are neither lost nor doubled, however they are ordered and grouped', () => {
    const any = fc.array(
      fc.record({
        kind: fc.constantFrom(...COMMENT_KINDS),
        status: fc.constantFrom(...COMMENT_STATUSES),
        priority: fc.constantFrom(...PRIORITIES),
        dueOn: fc.constantFrom(null, '2026-11-20', '2026-12-01'),
        meetingId: fc.constantFrom(null, 'one', 'two'),
      }),
    );
    fc.assert(
      fc.property(any, fc.constantFrom(...SORTS), fc.constantFrom(...GROUPS), (changes, sort, group) => {
        const all = changes.map((change, i) => comment({ ...change, id: `${i}`, number: i + 1 }));
        const groups = groupComments(sortComments(all, sort), group, (id) => `Meeting ${id}`);
        expect(ids(groups.flatMap(({ comments }) => comments)).sort()).toEqual(ids(all).sort());
        expect(new Set(groups.map(({ heading }) => heading)).size).toBe(groups.length);
      }),
    );
  });
});

describe('a month', () => {
  it('has whole weeks from Monday on', () => {
    const november = monthDays('2026-11');
    expect([november[0], november.at(-1), november.length]).toEqual(['2026-10-26', '2026-12-06', 42]);
    expect(monthDays('2027-02')).toHaveLength(28); // it begins on a Monday
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 600 }), (by) => {
        const month = monthAfter('2020-01', by);
        const days = monthDays(month);
        expect(days.length % 7).toBe(0);
        expect(new Date(`${days[0]}T00:00:00Z`).getUTCDay()).toBe(1);
        expect(days.filter((day) => day.startsWith(month)).at(0)).toBe(`${month}-01`);
        expect(new Set(days).size).toBe(days.length);
      }),
    );
    expect([monthAfter('2026-12', 1), monthAfter('2026-01', -1)]).toEqual(['2027-01', '2025-12']);
  });
});
