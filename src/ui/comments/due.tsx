import { Text } from '@chakra-ui/react';
import { format } from 'date-fns';
import type { CommentStatus } from '@/core/project/comment';
import { isOverdue } from '@/core/project/sort-comments';

/** By which day something is to be done; what is late says so. */
export function Due({ dueOn, status, today }: { dueOn: string | null; status: CommentStatus; today: string }) {
  if (dueOn === null) return null;
  const isLate = isOverdue({ dueOn, status }, today);
  return (
    <Text as="span" fontWeight={isLate ? 'bold' : undefined} color={isLate ? 'madder' : undefined} whiteSpace="nowrap">
      {isLate ? 'late, due ' : 'due '}
      {format(new Date(`${dueOn}T12:00:00`), 'd MMM yyyy')}
    </Text>
  );
}

/** The day on which somebody looks, where they are. */
export function today(): string {
  return format(new Date(), 'yyyy-MM-dd');
}
