import { expect, it } from 'vitest';
import { approvalOf, approvalState, approvalWords, type ApprovalState, type Suitability } from './approval';

it('an approval stands where its answers put it: one that sends back decides, one that is missing is waited for', () => {
  expect(approvalState([null, 'approved'], false)).toBe('waiting');
  expect(approvalState(['approved', 'approved'], false)).toBe('approved');
  expect(approvalState(['approved', 'with-comments'], false)).toBe('with-comments');
  expect(approvalState([null, 'resubmit'], false)).toBe('resubmit');
  expect(approvalState(['approved', null], true)).toBe('ended');
  expect(approvalState(['resubmit'], true)).toBe('resubmit');
});

it('of several approvals of a revision the newest that was not taken back counts, and says how far it is', () => {
  const one = (revisionId: string, state: ApprovalState, suitability: Suitability | null = null) => ({
    revisionId,
    state,
    suitability,
    approvers: [{ answer: 'approved' as const }, { answer: null }],
  });
  const all = [one('a', 'ended'), one('b', 'resubmit', 'S4'), one('a', 'waiting', 'S3'), one('a', 'approved')];
  expect(approvalWords(approvalOf(all, 'a')!)).toBe('Up for approval, 1 of 2 answered, S3');
  expect(approvalWords(approvalOf(all, 'b')!)).toBe('Revise and resubmit, S4');
  expect(approvalWords(one('c', 'with-comments'))).toBe('Approved with comments');
  expect(approvalOf(all, 'c')).toBeNull();
});
