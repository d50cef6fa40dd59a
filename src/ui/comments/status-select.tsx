'use client';
import { COMMENT_STATUSES, STATUS_WORDS, type CommentStatus } from '@/core/project/comment';
import { SmallSelect } from '../small-select';

/** How far it is done. What was closed and is open again is reopened. */
export function StatusSelect({
  number,
  status,
  onChange,
}: {
  number: number | null;
  status: CommentStatus;
  onChange: (status: CommentStatus) => void;
}) {
  return (
    <SmallSelect
      label={`Status of comment ${number}`}
      value={status}
      options={COMMENT_STATUSES.filter((one) => one !== 'reopened' || status === 'reopened' || status === 'closed')
        .filter((one) => one !== 'open' || (status !== 'closed' && status !== 'reopened'))
        .map((one) => [one, STATUS_WORDS[one]] as const)}
      onChange={(next) => onChange(next as CommentStatus)}
    />
  );
}
