'use client';
import { Box, Flex, Input } from '@chakra-ui/react';
import { useState } from 'react';
import {
  COMMENT_KINDS,
  KIND_WORDS,
  PRIORITIES,
  PRIORITY_WORDS,
  type Assignee,
  type CommentChange,
  type CommentKind,
  type Priority,
} from '@/core/project/comment';
import { SmallSelect } from '../small-select';
import type { Person } from './use-assignees';

/** Stand for nobody and for an address in the choice. */
const NOBODY = '';
const BY_ADDRESS = '@';

export interface Details {
  kind: CommentKind;
  assignee: Assignee | null;
  dueOn: string | null;
  priority: Priority;
}

interface DetailsFieldsProps {
  value: Details;
  people: readonly Person[];
  /** Kinds that may be chosen. */
  kinds?: readonly CommentKind[];
  /** Whether it can be given to somebody, with a day and a priority. */
  mayAssign: boolean;
  onChange: (change: Pick<CommentChange, 'kind' | 'assignee' | 'dueOn' | 'priority'>) => void;
}

/** What kind it is, who is to do it, by when, and how urgent it is. */
export function DetailsFields({ value, people, kinds = COMMENT_KINDS, mayAssign, onChange }: DetailsFieldsProps) {
  const { assignee } = value;
  const [isByAddress, setByAddress] = useState(false);
  const isWriting = isByAddress || (assignee !== null && assignee.id === null);
  return (
    <Flex direction="column" gap="2">
      <Flex gap="2">
        <SmallSelect
          label="Kind"
          value={value.kind}
          options={kinds.map((kind) => [kind, KIND_WORDS[kind]] as const)}
          onChange={(kind) => onChange({ kind: kind as CommentKind })}
        />
        {mayAssign ? (
          <SmallSelect
            label="Priority"
            value={value.priority}
            options={PRIORITIES.map((one) => [one, `${PRIORITY_WORDS[one]} priority`] as const)}
            onChange={(priority) => onChange({ priority: priority as Priority })}
          />
        ) : null}
      </Flex>
      {mayAssign ? (
        <Flex gap="2">
          <SmallSelect
            label="Who is to do it"
            value={isWriting ? BY_ADDRESS : (assignee?.id ?? NOBODY)}
            options={[
              [NOBODY, 'Nobody'],
              ...people.map(({ id, name }) => [id, name] as const),
              [BY_ADDRESS, 'By address …'],
            ]}
            onChange={(id) => {
              setByAddress(id === BY_ADDRESS);
              if (id !== BY_ADDRESS) onChange({ assignee: id === NOBODY ? null : { id } });
            }}
          />
          <Input
            type="date"
            aria-label="By which day"
            size="sm"
            minH="40px"
            w="138px"
            borderColor="seam"
            value={value.dueOn ?? ''}
            onChange={(event) => onChange({ dueOn: event.target.value || null })}
          />
        </Flex>
      ) : null}
      {mayAssign && isWriting ? (
        <Box>
          <Input
            key={assignee?.email ?? ''}
            type="email"
            aria-label="Address of who is to do it"
            placeholder="name@firm.example"
            size="sm"
            minH="40px"
            borderColor="seam"
            maxLength={200}
            defaultValue={assignee?.email ?? ''}
            onBlur={(event) => {
              const email = event.target.value.trim();
              if (email && event.target.validity.valid && email !== assignee?.email) onChange({ assignee: { email } });
            }}
          />
        </Box>
      ) : null}
    </Flex>
  );
}
