'use client';
import { Box, Button, Flex, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { Comment } from '@/core/project/comment';
import { api, messageOf } from '../api';
import { Trouble } from '../controls';
import { AttachedFiles } from './attached-files';
import { WordsField } from './words-field';

interface AnswerProps {
  /** Address of the project's API. */
  base: string;
  answer: Comment;
  /** Its words were changed, or it is gone; what shows is to be fetched anew. */
  onChanged: () => void;
}

/** What somebody answered; whoever said it changes its words or deletes it. */
export function Answer({ base, answer, onChanged }: AnswerProps) {
  const { id, author, guest, text, isOwn, editedAt } = answer;
  const [isEditing, setEditing] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const change = (changed: { text: string } | { deleted: true }) =>
    api.patch(`${base}/comments/${id}`, changed).then(
      () => (setEditing(false), setTrouble(null), onChanged()),
      (error: unknown) => setTrouble(messageOf(error)),
    );
  return (
    <Box mt="2" pl="3" borderLeftWidth="2px" borderColor="seam">
      {!isEditing ? (
        <Text fontSize="sm" wordBreak="break-word">
          <b>
            {author}
            {guest ? ', guest' : ''}
          </b>{' '}
          <bdi>{text}</bdi>
          {editedAt ? (
            <Text as="span" color="softInk">
              {' '}
              (changed)
            </Text>
          ) : null}
        </Text>
      ) : (
        <WordsField
          label="Words of the answer"
          words={text}
          onSave={(words) => void change({ text: words })}
          onCancel={() => setEditing(false)}
        />
      )}
      <AttachedFiles base={base} comment={answer} />
      <Trouble text={trouble} />
      {isOwn && !isEditing ? (
        <Flex gap="1" ml="-2">
          <Button variant="ghost" size="sm" minH="36px" color="softInk" onClick={() => setEditing(true)}>
            Change words
          </Button>
          <Button
            variant="ghost"
            size="sm"
            minH="36px"
            color="softInk"
            aria-label={`Delete your answer: ${text.slice(0, 60)}`}
            onClick={() => void change({ deleted: true })}
          >
            Delete
          </Button>
        </Flex>
      ) : null}
    </Box>
  );
}
