'use client';
import { Box, Flex, Grid, Heading, Image, Link, Stack, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useCallback, useState } from 'react';
import type { MeetingSummary } from '@/core/meeting/meeting-record';
import type { Comment } from '@/core/project/comment';
import { api, messageOf } from '../api';
import { useLiveProject } from '../live-page';
import { Card, QuietButton, Trouble } from '../controls';
import { Time } from '../time';

/** Station Follow-up: what was said, meeting by meeting, what is still open, and the minutes. */
export function FollowUp({
  project,
  meetings,
  initial,
}: {
  project: { id: string; name: string };
  meetings: MeetingSummary[];
  initial: Comment[];
}) {
  const [comments, setComments] = useState(initial);
  const [filter, setFilter] = useState<'open' | 'all'>('all');
  const [trouble, setTrouble] = useState<string | null>(null);
  const base = `/api/projects/${project.id}`;
  const fetchAnew = useCallback(() => api.get<Comment[]>(`${base}/comments`).then(setComments), [base]);
  const reload = useLiveProject(project.id, 'comments-changed', fetchAnew, setTrouble);
  const setStatus = (id: string, status: 'open' | 'closed') =>
    api.patch(`${base}/comments/${id}`, { status }).then(reload, (error: unknown) => setTrouble(messageOf(error)));

  const threads = comments.filter((comment) => !comment.replyTo);
  const shown = threads.filter((comment) => filter === 'all' || comment.status === 'open');
  const outside = shown.filter((comment) => !comment.meetingId);
  const open = threads.filter((comment) => comment.status === 'open').length;
  return (
    <Box as="main" maxW="1120px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
      <Flex align="end" gap="3" wrap="wrap" mb="6">
        <Box flex="1" minW="220px">
          <Heading as="h1" fontSize="3xl">
            What was said
          </Heading>
          <Text color="softInk">
            {threads.length} {threads.length === 1 ? 'comment' : 'comments'}, {open} open
          </Text>
        </Box>
        <QuietButton aria-pressed={filter === 'open'} onClick={() => setFilter(filter === 'open' ? 'all' : 'open')}>
          Only open ones
        </QuietButton>
        <QuietButton asChild>
          <a href={`${base}/comments.csv`}>Comments as CSV</a>
        </QuietButton>
      </Flex>
      <Trouble text={trouble} />
      {meetings.length === 0 && threads.length === 0 ? (
        <Text color="softInk">
          No meeting has been held and nothing has been said yet. Start a meeting in the Review.
        </Text>
      ) : null}
      <Stack gap="8">
        {meetings.map((meeting) => (
          <Box as="section" key={meeting.id} aria-label={meeting.title}>
            <Flex align="center" gap="3" mb="3" wrap="wrap">
              <Box flex="1" minW="200px">
                <Heading as="h2" fontSize="xl">
                  {meeting.title}
                </Heading>
                <Text color="softInk" fontSize="sm">
                  <Time at={meeting.startedAt} />
                  {meeting.endedAt ? (
                    <>
                      {' to '}
                      <Time at={meeting.endedAt} show="time" />
                    </>
                  ) : (
                    ', going on'
                  )}
                </Text>
              </Box>
              <QuietButton asChild>
                <a href={`/api/meetings/${meeting.id}/minutes.pdf`} target="_blank" rel="noreferrer">
                  Minutes as PDF
                </a>
              </QuietButton>
            </Flex>
            <Threads
              project={project}
              threads={shown.filter((comment) => comment.meetingId === meeting.id)}
              all={comments}
              onStatus={setStatus}
            />
          </Box>
        ))}
        {outside.length > 0 ? (
          <Box as="section" aria-label="Outside of meetings">
            <Heading as="h2" fontSize="xl" mb="3">
              Outside of meetings
            </Heading>
            <Threads project={project} threads={outside} all={comments} onStatus={setStatus} />
          </Box>
        ) : null}
      </Stack>
    </Box>
  );
}

interface ThreadsProps {
  project: { id: string };
  threads: Comment[];
  all: Comment[];
  onStatus: (id: string, status: 'open' | 'closed') => void;
}

function Threads({ project, threads, all, onStatus }: ThreadsProps) {
  if (threads.length === 0) return <Text color="softInk">Nothing here.</Text>;
  return (
    <Grid as="ul" listStyleType="none" templateColumns={{ base: '1fr', md: '1fr 1fr' }} gap="4">
      {threads.map((comment) => (
        <Card
          as="li"
          key={comment.id}
          overflow="hidden"
          opacity={comment.status === 'closed' ? 0.85 : 1}
          display="flex"
          flexDirection="column"
        >
          {comment.hasPicture ? (
            <Image
              src={`/api/projects/${project.id}/comments/${comment.id}/picture`}
              alt={`View of comment ${comment.number}`}
              h="170px"
              w="full"
              objectFit="cover"
              bg="felt"
            />
          ) : null}
          <Box p="4" flex="1">
            <Text fontSize="sm" color="softInk">
              <b>{comment.number}</b> · {comment.author}
              {comment.guest ? ', guest' : ''}
              {comment.elementName ? ` · ${comment.elementName}` : ''}
            </Text>
            <Text mt="1" whiteSpace="pre-wrap" wordBreak="break-word" dir="auto">
              {comment.text}
            </Text>
            {all
              .filter((other) => other.replyTo === comment.id)
              .map((reply) => (
                <Text key={reply.id} fontSize="sm" mt="2" pl="3" borderLeftWidth="2px" borderColor="seam">
                  <b>{reply.author}</b> {reply.text}
                </Text>
              ))}
          </Box>
          <Flex px="4" pb="3" gap="3" align="center">
            <Link asChild color="madder" fontWeight="bold" flex="1">
              <NextLink href={`/projects/${project.id}/review?comment=${comment.id}`}>Go to the place</NextLink>
            </Link>
            <Text fontSize="sm" fontWeight="bold" color={comment.status === 'open' ? 'ochre' : 'softInk'}>
              {comment.status}
            </Text>
            <QuietButton
              size="sm"
              onClick={() => onStatus(comment.id, comment.status === 'open' ? 'closed' : 'open')}
              aria-label={`${comment.status === 'open' ? 'Close' : 'Reopen'} comment ${comment.number}`}
            >
              {comment.status === 'open' ? 'Close' : 'Reopen'}
            </QuietButton>
          </Flex>
        </Card>
      ))}
    </Grid>
  );
}
