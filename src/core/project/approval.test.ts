import { expect, it } from 'vitest';
import { approvalState } from './approval';

it('an approval stands where its answers put it: one that sends back decides, one that is missing is waited for', () => {
  expect(approvalState([null, 'approved'], false)).toBe('waiting');
  expect(approvalState(['approved', 'approved'], false)).toBe('approved');
  expect(approvalState(['approved', 'with-comments'], false)).toBe('with-comments');
  expect(approvalState([null, 'resubmit'], false)).toBe('resubmit');
  expect(approvalState(['approved', null], true)).toBe('ended');
  expect(approvalState(['resubmit'], true)).toBe('resubmit');
});
