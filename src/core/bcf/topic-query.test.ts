import { describe, expect, it } from 'vitest';
import { queryTopics, QueryError } from './topic-query';

const topics = [
  { guid: 'a', topic_status: 'Open', topic_type: 'Action', index: 3, assigned_to: 'mikko@x.example', creation_date: '2026-11-01T10:00:00.000Z', title: "The owner's sill" }, // prettier-ignore
  { guid: 'b', topic_status: 'Closed', topic_type: 'Remark', index: 1, assigned_to: null, creation_date: '2026-11-03T10:00:00.000Z', title: 'Door' }, // prettier-ignore
  { guid: 'c', topic_status: 'Open', topic_type: 'Question', index: 2, assigned_to: 'ines@x.example', creation_date: '2026-11-02T10:00:00.000Z', title: 'Sill' }, // prettier-ignore
];
const found = (query: Parameters<typeof queryTopics>[1]) =>
  queryTopics(topics, query)
    .map(({ guid }) => guid)
    .join('');

describe('a query of topics', () => {
  it('compares texts, numbers and times', () => {
    expect(found({ $filter: "topic_status eq 'Open'" })).toBe('ac');
    expect(found({ $filter: "assigned_to ne 'mikko@x.example'" })).toBe('bc');
    expect(found({ $filter: 'index ge 2' })).toBe('ac');
    expect(found({ $filter: 'creation_date gt 2026-11-02T00:00:00+01:00' })).toBe('bc');
    expect(found({ $filter: "title eq 'The owner''s sill'" })).toBe('a');
  });

  it('joins by and before or, takes brackets and not, and finds parts of texts', () => {
    expect(found({ $filter: "topic_type eq 'Remark' or topic_status eq 'Open' and index eq 2" })).toBe('bc');
    expect(found({ $filter: "(topic_type eq 'Remark' or topic_status eq 'Open') and index eq 2" })).toBe('c');
    expect(found({ $filter: "not (topic_status eq 'Open')" })).toBe('b');
    expect(found({ $filter: "contains(title, 'sill')" })).toBe('ac');
  });

  it('sorts, what is not there first, and hands out pages', () => {
    expect(found({ $orderby: 'index' })).toBe('bca');
    expect(found({ $orderby: 'assigned_to desc' })).toBe('acb');
    expect(found({ $orderby: 'topic_status, index desc' })).toBe('bac');
    expect(found({ $orderby: 'index', $skip: 1, $top: 1 })).toBe('c');
  });

  it('refuses what it does not understand, however deep', () => {
    for (const $filter of [
      'x eq 1',
      'index',
      'index is 3',
      "index eq 'a",
      '(index eq 1',
      'index eq 1 index',
      '('.repeat(10_000) + 'index eq 1',
      ';',
    ])
      expect(() => found({ $filter }), $filter.slice(0, 20)).toThrow(QueryError);
    for (const $orderby of ['x', 'index up', 'index desc more']) expect(() => found({ $orderby })).toThrow(QueryError);
  });
});
