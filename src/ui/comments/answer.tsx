'use client';
import { Box, Button, Flex, Text, Textarea } from '@chakra-ui/react';
import { useState } from 'react';
import type { Comment } from '@/core/project/comment';
import { api, messageOf } from '../api';
import { PrimaryButton, QuietButton, Trouble } from '../controls';
import { AttachedFiles } from './attached-files';

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
  const [draft, setDraft] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const change = (changed: { text: string } | { deleted: true }) =>
    api.patch(`${base}/comments/${id}`, changed).then(
      () => (setDraft(null), setTrouble(null), onChanged()),
      (error: unknown) => setTrouble(messageOf(error)),
    );
  return (
    <Box mt="2" pl="3" borderLeftWidth="2px" borderColor="seam">
      {draft === null ? (
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
        <>
          <Textarea
            aria-label="Words of the answer"
            autoFocus
            rows={2}
            dir="auto"
            maxLength={4000}
            borderColor="seam"
            value={draft}
            onChange={(event) => setDraft(event.target.value)}
            onKeyDown={(event) => event.key === 'Escape' && setDraft(null)}
          />
          <Flex gap="2" mt="1">
            <PrimaryButton
              size="sm"
              minH="38px"
              disabled={!draft.trim()}
              onClick={() => void change({ text: draft.trim() })}
            >
              Save
            </PrimaryButton>
            <QuietButton size="sm" minH="38px" onClick={() => setDraft(null)}>
              Cancel
            </QuietButton>
          </Flex>
        </>
      )}
      <AttachedFiles base={base} comment={answer} />
      <Trouble text={trouble} />
      {isOwn && draft === null ? (
        <Flex gap="1" ml="-2">
          <Button variant="ghost" size="sm" minH="36px" color="softInk" onClick={() => setDraft(text)}>
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
