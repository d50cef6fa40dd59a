'use client';
import { Box, Button, Flex, Stack, Text } from '@chakra-ui/react';
import { lazy, Suspense, useMemo, useState } from 'react';
import { Time } from '../../time';
import { useReview, useSession } from '../session-context';
import { answersById, isOpen, KIND_WORDS, STATUS_WORDS, type Comment } from '@/core/project/comment';
import { Answer } from '../../comments/answer';
import { AttachedFiles } from '../../comments/attached-files';
import { WordsField } from '../../comments/words-field';
import { Due, today } from '../../comments/due';
import { useNames } from '../use-names';

/** Guests who only look do not load it. */
const AnswerForm = lazy(() => import('../../comments/answer-form').then((module) => ({ default: module.AnswerForm })));

/** As many show at first, and more as often as that is asked for: there may be thousands. */
const PAGE = 50;

/** What was said, newest first, each with its answers and one press from its place. */
export function Talk() {
  const session = useSession();
  const comments = useReview((state) => state.comments);
  const threads = comments.filter((comment) => !comment.replyTo).reverse();
  const answers = useMemo(() => answersById(comments), [comments]);
  const [gone, setGone] = useState<Comment | null>(null);
  const [shown, setShown] = useState(PAGE);
  const undo = gone ? (
    <Flex role="status" px="4" py="2" gap="2" align="center" bg="felt">
      <Text flex="1" fontSize="sm" truncate dir="auto">
        Deleted: {gone.text}
      </Text>
      <Button
        variant="ghost"
        size="sm"
        fontWeight="bold"
        onClick={() => {
          setGone(null);
          void session.records.changeComment(gone.id, { deleted: false });
        }}
      >
        Undo
      </Button>
    </Flex>
  ) : null;
  if (threads.length === 0 && !gone) {
    return (
      <Text p="4" color="softInk">
        {session.start.rights.comment
          ? 'Nothing has been said yet. Choose Say, then point at what you mean.'
          : 'Nothing has been said yet.'}
      </Text>
    );
  }
  return (
    <>
      {undo}
      <Stack as="ul" listStyleType="none" gap="0" aria-live="polite">
        {threads.slice(0, shown).map((comment) => (
          <Thread
            key={comment.id}
            comment={comment}
            replies={answers.get(comment.id) ?? []}
            onDeleted={() => setGone(comment)}
          />
        ))}
      </Stack>
      {threads.length > shown ? (
        <Button variant="ghost" w="full" color="softInk" onClick={() => setShown(shown + PAGE)}>
          Earlier: {threads.length - shown} more
        </Button>
      ) : null}
    </>
  );
}

function Thread({ comment, replies, onDeleted }: { comment: Comment; replies: Comment[]; onDeleted: () => void }) {
  const session = useSession();
  const [answering, setAnswering] = useState(false);
  const [isEditing, setEditing] = useState(false);
  const names = useNames();
  const base = `/api/projects/${session.start.project.id}`;
  return (
    <Box as="li" px="4" py="3" borderBottomWidth="1px" borderColor="seam">
      <Flex gap="2" align="baseline">
        <Text fontWeight="bold" color={comment.guest ? 'indigo' : 'ink'}>
          {comment.number}
        </Text>
        <Text fontWeight="bold" flex="1">
          {comment.author}
          {comment.guest ? ', guest' : ''}
        </Text>
        <Text fontSize="sm" color="softInk">
          <Time at={comment.createdAt} show="time" />
        </Text>
      </Flex>
      {isEditing ? (
        <WordsField
          label={`Words of comment ${comment.number}`}
          words={comment.text}
          onSave={(text) =>
            void session.records.changeComment(comment.id, { text }).then((isStored) => isStored && setEditing(false))
          }
          onCancel={() => setEditing(false)}
        />
      ) : (
        <Text whiteSpace="pre-wrap" wordBreak="break-word" dir="auto">
          {comment.text}
        </Text>
      )}
      <AttachedFiles base={base} comment={comment} />
      {comment.confirmedBy.length > 0 ? (
        <Text fontSize="sm">Confirmed by {comment.confirmedBy.map(({ name }) => name).join(', ')}</Text>
      ) : null}
      <Text fontSize="sm" color="softInk">
        {comment.kind === 'remark' ? '' : `${KIND_WORDS[comment.kind]} · `}
        {STATUS_WORDS[comment.status]}
        {comment.elementName ? ` · at ${comment.elementName}` : ''}
        {comment.assignee ? ` · for ${comment.assignee.name}` : ''}
        {comment.dueOn ? ' · ' : ''}
        <Due dueOn={comment.dueOn} status={comment.status} today={today()} />
        {comment.editedAt ? ' · changed' : ''}
      </Text>
      {replies.map((reply) => (
        <Answer
          key={reply.id}
          base={base}
          answer={reply}
          place={() => session.act(() => session.showComment(reply))}
          onChanged={() => session.act(() => session.records.reloadComments())}
        />
      ))}
      <Flex gap="1" mt="1" ml="-2" wrap="wrap">
        {comment.hasView ? (
          <Button
            variant="ghost"
            size="sm"
            color="madder"
            fontWeight="bold"
            onClick={() => session.act(() => session.showComment(comment))}
          >
            Go to the place
          </Button>
        ) : null}
        {session.start.rights.assign ? (
          <Button
            variant="ghost"
            size="sm"
            color="softInk"
            onClick={() =>
              void session.records.changeComment(comment.id, { status: isOpen(comment) ? 'closed' : 'open' })
            }
          >
            {isOpen(comment) ? 'Close' : 'Reopen'}
          </Button>
        ) : null}
        {comment.isOwn && session.start.rights.comment && !isEditing ? (
          <Button variant="ghost" size="sm" color="softInk" onClick={() => setEditing(true)}>
            Change words
          </Button>
        ) : null}
        {comment.isOwn && session.start.rights.comment ? (
          <Button
            variant="ghost"
            size="sm"
            color="softInk"
            onClick={() =>
              void session.records.changeComment(comment.id, { deleted: true }).then((isGone) => isGone && onDeleted())
            }
          >
            Delete
          </Button>
        ) : null}
        {session.start.rights.comment && !answering ? (
          <Button variant="ghost" size="sm" color="softInk" onClick={() => setAnswering(true)}>
            Answer
          </Button>
        ) : null}
      </Flex>
      {answering ? (
        <Suspense>
          <AnswerForm
            base={base}
            comment={comment}
            names={names}
            seen={() => session.records.seen()}
            onSent={() => (setAnswering(false), session.act(() => session.records.reloadComments()))}
            onCancel={() => setAnswering(false)}
          />
        </Suspense>
      ) : null}
    </Box>
  );
}
