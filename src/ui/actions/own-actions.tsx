'use client';
import { Box, Flex, Heading, Image, Link, Stack, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useCallback, useState } from 'react';
import { KIND_WORDS, PRIORITY_WORDS, type CommentStatus } from '@/core/project/comment';
import type { DueAction } from '@/core/project/due-action';
import { api, messageOf } from '../api';
import { Due, today as dayOf } from '../comments/due';
import { StatusSelect } from '../comments/status-select';
import { Card, Trouble } from '../controls';
import { useLiveNotices } from '../live-page';

/** My list: what I am to do, over all projects, what is due first comes first. */
export function OwnActions({ initial }: { initial: DueAction[] }) {
  const [actions, setActions] = useState(initial);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [today] = useState(dayOf);
  useLiveNotices(
    useCallback(
      () => api.get<DueAction[]>('/api/actions').then(setActions, (error: unknown) => setTrouble(messageOf(error))),
      [],
    ),
  );
  const setStatus = async ({ id, projectId }: DueAction, status: CommentStatus) => {
    try {
      await api.patch(`/api/projects/${projectId}/comments/${id}`, { status });
      setActions(await api.get<DueAction[]>('/api/actions'));
      setTrouble(null);
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  return (
    <Box as="main" maxW="860px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
      <Heading as="h1" fontSize="3xl" mb="1">
        My list
      </Heading>
      <Text color="softInk" mb="5">
        {actions.length === 0
          ? 'Nothing is yours to do. What somebody asks you to do in a review stands here.'
          : `${actions.length} to do, over all projects`}
      </Text>
      <Trouble text={trouble} />
      <Stack as="ul" listStyleType="none" gap="3" aria-label="What is mine to do">
        {actions.map((action) => {
          const { id, projectId, projectName, number, text, kind, status, dueOn, priority, by, hasPicture } = action;
          return (
            <Card as="li" key={id} overflow="hidden" display="flex" borderRadius="14px">
              {hasPicture ? (
                <Image
                  src={`/api/projects/${projectId}/comments/${id}/picture`}
                  alt=""
                  w="132px"
                  minH="104px"
                  objectFit="cover"
                  bg="felt"
                  flexShrink="0"
                  display={{ base: 'none', md: 'block' }}
                />
              ) : null}
              <Flex flex="1" minW="0" p="4" gap="4" align="center">
                <Box flex="1" minW="0">
                  <Text lineClamp={2} dir="auto">
                    {text}
                  </Text>
                  <Text fontSize="sm" color="softInk" mt="1">
                    <b>
                      {KIND_WORDS[kind]} {number}
                    </b>{' '}
                    in {projectName} · from {by}
                    {priority === 'normal' ? '' : ` · ${PRIORITY_WORDS[priority].toLowerCase()} priority`}
                    {dueOn ? ' · ' : ''}
                    <Due dueOn={dueOn} status={status} today={today} />
                  </Text>
                  <Link asChild color="madder" fontWeight="bold" fontSize="sm">
                    <NextLink href={`/projects/${projectId}/review?comment=${id}`}>Go to the place</NextLink>
                  </Link>
                </Box>
                <Flex w="136px" flexShrink="0">
                  <StatusSelect number={number} status={status} onChange={(next) => void setStatus(action, next)} />
                </Flex>
              </Flex>
            </Card>
          );
        })}
      </Stack>
    </Box>
  );
}
