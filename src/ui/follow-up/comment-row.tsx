'use client';
import { Box, Button, Flex, Image, Link, Text } from '@chakra-ui/react';
import { ChevronDown, ChevronRight } from 'lucide-react';
import NextLink from 'next/link';
import { useEffect, useState } from 'react';
import {
  KIND_WORDS,
  PRIORITY_WORDS,
  STATUS_WORDS,
  type Comment,
  type CommentChange,
  type CommentHistory,
} from '@/core/project/comment';
import { api } from '../api';
import { Answer } from '../comments/answer';
import { AnswerForm } from '../comments/answer-form';
import { AttachedFiles } from '../comments/attached-files';
import { DetailsFields } from '../comments/details-fields';
import { Due } from '../comments/due';
import { StatusSelect } from '../comments/status-select';
import type { Person } from '../comments/use-assignees';
import { WordsField } from '../comments/words-field';
import { QuietButton } from '../controls';
import { Tick } from '../tick';
import { Time } from '../time';
import { Conflict } from './conflict';

export interface RowProps {
  projectId: string;
  comment: Comment;
  replies: readonly Comment[];
  people: readonly Person[];
  today: string;
  onChange: (change: CommentChange) => void;
  /** Something was said or added; what shows is to be fetched anew. */
  onReload: () => void;
  isChosen: boolean;
  onChoose: (isChosen: boolean) => void;
}

/** A comment as a line of a list; opened, all that is known of it. */
export function CommentRow({ isOpen, onToggle, ...row }: RowProps & { isOpen: boolean; onToggle: () => void }) {
  const { comment, today, onChange, isChosen, onChoose } = row;
  const { number, text, kind, status, assignee, dueOn, priority, author, guest, elementName, files, conflict } =
    comment;
  return (
    <Box bg="card" borderWidth="1px" borderColor={isOpen ? 'ink' : 'seam'} borderRadius="12px" mb="2">
      <Flex align="center" gap="2" px="3" minH="60px">
        <Tick checked={isChosen} onTick={onChoose} aria-label={`Choose comment ${number}`} minH="44px" px="1" />
        <Button
          variant="plain"
          onClick={onToggle}
          aria-expanded={isOpen}
          aria-label={`Comment ${number}: ${text}`}
          flex="1"
          minW="0"
          h="auto"
          minH="58px"
          p="0"
          gap="3"
          justifyContent="start"
          textAlign="left"
          color="ink"
          fontWeight="normal"
        >
          {isOpen ? <ChevronDown size={18} aria-hidden /> : <ChevronRight size={18} aria-hidden />}
          <Text as="span" fontWeight="bold" w="34px" textAlign="right" flexShrink="0" fontVariantNumeric="tabular-nums">
            {number}
          </Text>
          <Box minW="0" flex="1">
            <Text truncate dir="auto">
              {text}
            </Text>
            <Text fontSize="sm" color="softInk" truncate>
              <b>{KIND_WORDS[kind]}</b> · {author}
              {guest ? ', guest' : ''}
              {elementName ? ` · ${elementName}` : ''}
              {assignee ? (
                <>
                  {' '}
                  · for <b>{assignee.name}</b>
                </>
              ) : null}
              {priority === 'normal' ? null : ` · ${PRIORITY_WORDS[priority].toLowerCase()} priority`}
              {dueOn ? ' · ' : null}
              <Due dueOn={dueOn} status={status} today={today} />
              {files.length > 0 ? ` · ${files.length} ${files.length === 1 ? 'file' : 'files'}` : ''}
              {conflict ? (
                <Text as="span" color="madder" fontWeight="bold">
                  {' '}
                  · the tracker says otherwise
                </Text>
              ) : null}
            </Text>
          </Box>
        </Button>
        <Flex w={{ base: '116px', md: '134px' }} flexShrink="0">
          <StatusSelect number={number} status={status} onChange={(next) => onChange({ status: next })} />
        </Flex>
      </Flex>
      {isOpen ? <Opened {...row} /> : null}
    </Box>
  );
}

function Opened({ projectId, comment, replies, people, onChange, onReload }: RowProps) {
  const { id, number, text, hasView, hasPicture, isOwn, editedAt, confirmedBy, conflict } = comment;
  const [isAnswering, setAnswering] = useState(false);
  const [isEditing, setEditing] = useState(false);
  const project = `/api/projects/${projectId}`;
  const base = `${project}/comments/${id}`;
  return (
    <Flex gap="4" px="4" pb="4" direction={{ base: 'column', md: 'row' }}>
      {hasPicture ? (
        <Image
          src={`${base}/picture`}
          alt={`View of comment ${number}`}
          w={{ base: 'full', md: '320px' }}
          h="200px"
          objectFit="cover"
          borderRadius="10px"
          bg="felt"
          flexShrink="0"
        />
      ) : null}
      <Box flex="1" minW="0">
        {!isEditing ? (
          <Text whiteSpace="pre-wrap" wordBreak="break-word" dir="auto">
            {text}
            {editedAt ? (
              <Text as="span" fontSize="sm" color="softInk">
                {' '}
                (changed)
              </Text>
            ) : null}
          </Text>
        ) : (
          <WordsField
            label="Words of the comment"
            words={text}
            onSave={(words) => (setEditing(false), onChange({ text: words }))}
            onCancel={() => setEditing(false)}
          />
        )}
        {confirmedBy.length > 0 ? (
          <Text fontSize="sm">Confirmed by {confirmedBy.map(({ name }) => name).join(', ')}</Text>
        ) : null}
        <AttachedFiles base={project} comment={comment} />
        {replies.map((reply) => (
          <Answer
            key={reply.id}
            base={project}
            answer={reply}
            place={`/projects/${projectId}/review?comment=${reply.id}`}
            onChanged={onReload}
          />
        ))}
        {isAnswering ? (
          <AnswerForm
            base={project}
            comment={comment}
            names={people.map(({ name }) => name)}
            onSent={() => (setAnswering(false), onReload())}
            onCancel={() => setAnswering(false)}
          />
        ) : null}
        {conflict ? <Conflict base={base} number={number} conflict={conflict} onDone={onReload} /> : null}
        <Box mt="3" maxW="420px">
          <DetailsFields value={comment} people={people} mayAssign onChange={onChange} />
        </Box>
        <History
          address={`${base}/history`}
          seen={`${comment.status}${comment.dueOn}${comment.assignee?.name}${text}`}
        />
        <Flex gap="3" mt="3" align="center" wrap="wrap">
          {hasView ? (
            <Link asChild color="madder" fontWeight="bold">
              <NextLink href={`/projects/${projectId}/review?comment=${id}`}>Go to the place</NextLink>
            </Link>
          ) : null}
          {isAnswering ? null : (
            <QuietButton size="sm" minH="38px" onClick={() => setAnswering(true)}>
              Answer
            </QuietButton>
          )}
          {isOwn && !isEditing ? (
            <QuietButton size="sm" minH="38px" onClick={() => setEditing(true)}>
              Change words
            </QuietButton>
          ) : null}
          <QuietButton
            size="sm"
            minH="38px"
            aria-label={`Delete comment ${number}`}
            onClick={() => onChange({ deleted: true })}
          >
            Delete
          </QuietButton>
        </Flex>
      </Box>
    </Flex>
  );
}

/** What was changed, by whom and when. @param seen another value when there may be more */
function History({ address, seen }: { address: string; seen: string }) {
  const [history, setHistory] = useState<CommentHistory[]>([]);
  useEffect(() => {
    let isWanted = true;
    api.get<CommentHistory[]>(address).then(
      (found) => isWanted && setHistory(found),
      () => undefined, // a list that is not there says nothing; the comment itself does
    );
    return () => {
      isWanted = false;
    };
  }, [address, seen]);
  if (history.length === 0) return null;
  return (
    <Box as="ul" aria-label="History" listStyleType="none" mt="3" fontSize="sm" color="softInk">
      {history.map(({ at, by, changes }) => (
        <li key={at}>
          <Time at={at} /> {by}:{' '}
          {changes
            .map(({ field, from, to }) =>
              field === 'Words' ? 'words changed' : `${field.toLowerCase()} ${from || '–'} → ${to || '–'}`,
            )
            .join(', ')}
        </li>
      ))}
    </Box>
  );
}

/** A comment where there is little room: on a board, in a calendar. */
export function CommentChip({ comment, today, onOpen }: { comment: Comment; today: string; onOpen: () => void }) {
  const { number, text, kind, assignee, dueOn, status } = comment;
  return (
    <Button
      variant="plain"
      onClick={onOpen}
      aria-label={`Comment ${number}: ${text}`}
      display="block"
      w="full"
      h="auto"
      p="2.5"
      textAlign="left"
      bg="card"
      color="ink"
      borderWidth="1px"
      borderColor="seam"
      borderRadius="10px"
      fontWeight="normal"
      whiteSpace="normal"
      title={STATUS_WORDS[status]}
    >
      <Text fontSize="sm" lineClamp={3} dir="auto">
        <b>{number}</b> {text}
      </Text>
      <Text fontSize="xs" color="softInk" mt="1">
        {KIND_WORDS[kind]}
        {assignee ? ` · ${assignee.name}` : ''}
        {dueOn ? ' · ' : ''}
        <Due dueOn={dueOn} status={status} today={today} />
      </Text>
    </Button>
  );
}
