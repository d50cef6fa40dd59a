'use client';
import { Box, Button, Flex, Image, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
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
  /** Goes to what was seen, where it holds a view; an address or an act. */
  place: string | (() => void);
  /** Its words were changed, or it is gone; what shows is to be fetched anew. */
  onChanged: () => void;
}

/** What somebody answered; whoever said it changes its words or deletes it. */
export function Answer({ base, answer, place, onChanged }: AnswerProps) {
  const { id, author, guest, text, isOwn, editedAt, hasView, hasPicture } = answer;
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
      {hasPicture ? (
        <Image
          src={`${base}/comments/${id}/picture`}
          alt={`What ${author} shows`}
          loading="lazy"
          h="90px"
          borderRadius="8px"
          mt="1"
          bg="felt"
        />
      ) : null}
      <AttachedFiles base={base} comment={answer} />
      <Trouble text={trouble} />
      {hasView || (isOwn && !isEditing) ? (
        <Flex gap="1" ml="-2" wrap="wrap">
          {hasView ? <GoThere place={place} /> : null}
          {isOwn && !isEditing ? (
            <>
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
            </>
          ) : null}
        </Flex>
      ) : null}
    </Box>
  );
}

function GoThere({ place }: { place: AnswerProps['place'] }) {
  const look = { variant: 'ghost', size: 'sm', minH: '36px', color: 'madder', fontWeight: 'bold' } as const;
  return typeof place === 'string' ? (
    <Button {...look} asChild>
      <NextLink href={place}>Go to the place</NextLink>
    </Button>
  ) : (
    <Button {...look} onClick={place}>
      Go to the place
    </Button>
  );
}
