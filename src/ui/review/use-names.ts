import { useMemo } from 'react';
import { useReview } from './session-context';

/** Names of those who are in the meeting or have said something: who can be named by @ without asking the server. */
export function useNames(): string[] {
  const agreed = useReview((state) => state.agreed);
  const comments = useReview((state) => state.comments);
  return useMemo(() => {
    const here = agreed?.participants.map(({ name }) => name) ?? [];
    const said = comments.flatMap(({ author, assignee }) => [author, ...(assignee ? [assignee.name] : [])]);
    return [...new Set([...here, ...said])].sort();
  }, [agreed, comments]);
}
