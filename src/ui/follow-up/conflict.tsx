'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { SharedFields } from '@/core/exchange/shared-fields';
import { STATUS_WORDS, type CommentStatus } from '@/core/project/comment';
import { api, messageOf } from '../api';
import { QuietButton, Trouble } from '../controls';

const WORDS: Record<keyof SharedFields, string> = {
  text: 'Words',
  kind: 'Kind',
  status: 'Status',
  assignee: 'Assignee',
  dueOn: 'Due',
  priority: 'Priority',
  deleted: 'Deleted',
};

interface ConflictProps {
  /** Address of the comment. */
  base: string;
  number: number | null;
  conflict: Partial<SharedFields>;
  onDone: () => void;
}

/** Both sides have changed the same: somebody says which of them holds. */
export function Conflict({ base, number, conflict, onDone }: ConflictProps) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const settle = (keeps: 'here' | 'there') =>
    api.post(`${base}/conflict`, { keeps }).then(onDone, (error: unknown) => setTrouble(messageOf(error)));
  return (
    <Box role="group" aria-label={`Conflict of comment ${number}`} mt="3" p="3" bg="felt" borderRadius="10px">
      <Text fontWeight="bold" fontSize="sm">
        The tracker has changed the same. It says:
      </Text>
      {Object.entries(conflict).map(([field, value]) => (
        <Text key={field} fontSize="sm" dir="auto">
          {WORDS[field as keyof SharedFields]}: {said(field, value)}
        </Text>
      ))}
      <Trouble text={trouble} />
      <Flex gap="2" mt="2">
        <QuietButton size="sm" minH="38px" onClick={() => void settle('here')}>
          Keep what stands here
        </QuietButton>
        <QuietButton size="sm" minH="38px" onClick={() => void settle('there')}>
          Take what the tracker says
        </QuietButton>
      </Flex>
    </Box>
  );
}

function said(field: string, value: string | boolean): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return field === 'status' ? STATUS_WORDS[value as CommentStatus] : value || '–';
}
