'use client';
import { Box, Flex, Image, Stack, Text, Textarea } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useCallback, useState } from 'react';
import { v4 as uuidv4 } from 'uuid';
import type { Note } from '@/core/project/note';
import { api, messageOf } from '../api';
import { useAssignees, type Person } from '../comments/use-assignees';
import { WordsField } from '../comments/words-field';
import { Card, PrimaryButton, QuietButton, Trouble } from '../controls';
import { FollowUpHead } from '../follow-up/follow-up-head';
import { useLiveNotices } from '../live-page';
import { Tick } from '../tick';
import { Time } from '../time';

/** What I have noted for myself, and what colleagues have passed to me. */
export function OwnNotes({ projectId, you, initial }: { projectId: string; you: string; initial: Note[] }) {
  const [notes, setNotes] = useState(initial);
  const [text, setText] = useState('');
  const [key, setKey] = useState(() => uuidv4());
  const [trouble, setTrouble] = useState<string | null>(null);
  const people = useAssignees(projectId, true).filter(({ id }) => id !== you);
  const base = `/api/projects/${projectId}/notes`;
  const reload = useLiveNotices(
    useCallback(() => api.get<Note[]>(base).then(setNotes, (error: unknown) => setTrouble(messageOf(error))), [base]),
  );
  const act = (work: Promise<unknown>) =>
    work.then(
      () => (setTrouble(null), reload()),
      (error: unknown) => setTrouble(messageOf(error)),
    );
  const write = () =>
    act(
      api.post(base, { text: text.trim() }, key).then(() => {
        setText('');
        setKey(uuidv4());
      }),
    );
  return (
    <Box as="main" maxW="1180px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
      <FollowUpHead
        projectId={projectId}
        page="notes"
        title="My notes"
        lead="Only you see them, until you pass one to a colleague or share it with everybody. In the Review, Say keeps one with its place."
      />
      <Trouble text={trouble} />
      <Flex gap="2" mb="5" align="end" maxW="860px">
        <Textarea
          aria-label="New note"
          placeholder="New note"
          rows={2}
          dir="auto"
          maxLength={4000}
          borderColor="seam"
          bg="card"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <PrimaryButton disabled={!text.trim()} onClick={() => void write()}>
          Note
        </PrimaryButton>
      </Flex>
      <Stack as="ul" listStyleType="none" gap="3" maxW="860px" aria-label="Notes">
        {notes.map((note) => (
          <OneNote
            key={note.id}
            projectId={projectId}
            note={note}
            people={people}
            onChange={(change) => void act(api.patch(`${base}/${note.id}`, change))}
            onShare={() => void act(api.post(`${base}/${note.id}`, {}))}
            onDelete={() => void act(api.delete(`${base}/${note.id}`))}
          />
        ))}
      </Stack>
    </Box>
  );
}

interface OneNoteProps {
  projectId: string;
  note: Note;
  people: readonly Person[];
  onChange: (change: { text?: string; passedTo?: string[]; takenAlong?: true }) => void;
  onShare: () => void;
  onDelete: () => void;
}

function OneNote({ projectId, note, people, onChange, onShare, onDelete }: OneNoteProps) {
  const { id, text, elementName, hasPicture, isOwn, owner, passedTo, revision, isOlder, commentId, createdAt } = note;
  const [isEditing, setEditing] = useState(false);
  const [isPassing, setPassing] = useState(false);
  const small = { size: 'sm', minH: '38px' } as const;
  return (
    <Card as="li" display="flex" overflow="hidden" borderRadius="14px">
      {hasPicture ? (
        <Image
          src={`/api/projects/${projectId}/notes/${id}/picture`}
          alt=""
          w="150px"
          objectFit="cover"
          bg="felt"
          flexShrink="0"
          display={{ base: 'none', md: 'block' }}
        />
      ) : null}
      <Box flex="1" minW="0" p="4">
        {isEditing ? (
          <WordsField
            label="Words of the note"
            words={text}
            onSave={(words) => (setEditing(false), onChange({ text: words }))}
            onCancel={() => setEditing(false)}
          />
        ) : (
          <Text whiteSpace="pre-wrap" wordBreak="break-word" dir="auto">
            {text}
          </Text>
        )}
        <Text fontSize="sm" color="softInk" mt="1">
          {isOwn ? '' : `from ${owner} · `}
          <Time at={createdAt} />
          {elementName ? ` · at ${elementName}` : ''}
          {revision ? ` · about ${revision}` : ''}
          {passedTo.length > 0 ? ` · passed to ${passedTo.map(({ name }) => name).join(', ')}` : ''}
        </Text>
        {isOlder && isOwn && !commentId ? (
          <Flex align="center" gap="3" mt="2" bg="felt" borderRadius="10px" px="3" py="1">
            <Text fontSize="sm" flex="1">
              Something newer has been published since.
            </Text>
            <QuietButton {...small} onClick={() => onChange({ takenAlong: true })}>
              It still holds
            </QuietButton>
          </Flex>
        ) : null}
        {isPassing ? (
          <Flex role="group" aria-label="Passed to" gap="4" wrap="wrap" mt="2">
            {people.map((person) => (
              <Tick
                key={person.id}
                checked={passedTo.some((one) => one.id === person.id)}
                onTick={(isPassed) =>
                  onChange({
                    passedTo: [
                      ...passedTo.map((one) => one.id).filter((one) => one !== person.id),
                      ...(isPassed ? [person.id] : []),
                    ],
                  })
                }
              >
                {person.name}
              </Tick>
            ))}
            {people.length === 0 ? <Text fontSize="sm">You are alone in this project.</Text> : null}
          </Flex>
        ) : null}
        <Flex gap="2" mt="3" wrap="wrap">
          {note.view ? (
            <QuietButton {...small} asChild>
              <NextLink href={`/projects/${projectId}/review?note=${id}`}>Go to the place</NextLink>
            </QuietButton>
          ) : null}
          {commentId ? (
            <QuietButton {...small} asChild>
              <NextLink href={`/projects/${projectId}/review?comment=${commentId}`}>Shared: see the comment</NextLink>
            </QuietButton>
          ) : null}
          {isOwn && !commentId ? (
            <>
              <QuietButton {...small} onClick={onShare}>
                Share with everybody
              </QuietButton>
              <QuietButton {...small} aria-pressed={isPassing} onClick={() => setPassing(!isPassing)}>
                Pass to …
              </QuietButton>
              {isEditing ? null : (
                <QuietButton {...small} onClick={() => setEditing(true)}>
                  Change words
                </QuietButton>
              )}
            </>
          ) : null}
          {isOwn ? (
            <QuietButton {...small} onClick={onDelete}>
              Delete
            </QuietButton>
          ) : null}
        </Flex>
      </Box>
    </Card>
  );
}
