'use client';
import { Flex, Input, Text } from '@chakra-ui/react';
import {
  COMMENT_STATUSES,
  PRIORITIES,
  PRIORITY_WORDS,
  STATUS_WORDS,
  type CommentChange,
  type CommentStatus,
  type Priority,
} from '@/core/project/comment';
import type { Person } from '../comments/use-assignees';
import { Card, QuietButton } from '../controls';
import { SmallSelect } from '../small-select';

/** Stands for a choice that is still to be made, and for nobody. */
const NONE = '*';
const NOBODY = '-';

interface SeveralProps {
  count: number;
  people: readonly Person[];
  onChange: (change: CommentChange) => void;
  onClear: () => void;
}

/** What can be done with several comments at once. */
export function Several({ count, people, onChange, onClear }: SeveralProps) {
  return (
    <Card
      role="group"
      aria-label="Those that are chosen"
      position="sticky"
      top="8px"
      zIndex="5"
      px="4"
      py="2"
      mb="3"
      borderRadius="12px"
      display="flex"
      alignItems="center"
      gap="2"
      flexWrap="wrap"
    >
      <Text fontWeight="bold" mr="2">
        {count} chosen
      </Text>
      <Pick
        label="Status of all chosen"
        first="Status …"
        options={COMMENT_STATUSES.map((status) => [status, STATUS_WORDS[status]])}
        onPick={(status) => onChange({ status: status as CommentStatus })}
      />
      <Pick
        label="Who is to do all chosen"
        first="For …"
        options={[[NOBODY, 'Nobody'], ...people.map(({ id, name }): [string, string] => [id, name])]}
        onPick={(id) => onChange({ assignee: id === NOBODY ? null : { id } })}
      />
      <Pick
        label="Priority of all chosen"
        first="Priority …"
        options={PRIORITIES.map((priority) => [priority, PRIORITY_WORDS[priority]])}
        onPick={(priority) => onChange({ priority: priority as Priority })}
      />
      <Input
        type="date"
        aria-label="Day of all chosen"
        size="sm"
        minH="40px"
        w="140px"
        borderColor="seam"
        onChange={(event) => event.target.value && onChange({ dueOn: event.target.value })}
      />
      <QuietButton size="sm" minH="40px" onClick={() => onChange({ deleted: true })}>
        Delete
      </QuietButton>
      <QuietButton size="sm" minH="40px" ml="auto" onClick={onClear}>
        Choose none
      </QuietButton>
    </Card>
  );
}

/** A choice that is an act: it goes back to its first word. */
function Pick({
  label,
  first,
  options,
  onPick,
}: {
  label: string;
  first: string;
  options: readonly (readonly [string, string])[];
  onPick: (value: string) => void;
}) {
  return (
    <Flex w="132px">
      <SmallSelect
        label={label}
        value={NONE}
        options={[[NONE, first], ...options]}
        onChange={(value) => value !== NONE && onPick(value)}
      />
    </Flex>
  );
}
