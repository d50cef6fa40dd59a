'use client';
import { Box, Flex, Heading, Popover, Portal, Stack, Text } from '@chakra-ui/react';
import { Bell as BellSign } from 'lucide-react';
import NextLink from 'next/link';
import { useCallback, useState } from 'react';
import { noticeSentence, type Notice } from '@/core/jobs/notice';
import { api } from '../api';
import { useLiveNotices } from '../live-page';
import { IconButton } from '../controls';
import { Time } from '../time';

/** What has come to an end while one was elsewhere. Opening it counts as having seen it. */
export function Bell() {
  const [notices, setNotices] = useState<Notice[]>([]);
  // Where the server does not answer, the page itself says so; the bell keeps what it has.
  const fetchAnew = useCallback(() => api.get<Notice[]>('/api/notices').then(setNotices, () => undefined), []);
  const reload = useLiveNotices(fetchAnew);
  const fresh = notices.filter((notice) => !notice.seen).length;
  // What was new when the list was opened stays marked while one reads it.
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  return (
    <Popover.Root
      lazyMount
      unmountOnExit
      positioning={{ placement: 'bottom-end' }}
      onOpenChange={({ open }) => {
        if (!open) return;
        setMarked(new Set(notices.filter((notice) => !notice.seen).map(({ id }) => id)));
        if (fresh > 0) void api.patch('/api/notices', {}).then(reload, () => undefined);
      }}
    >
      <Popover.Trigger asChild>
        <IconButton label={fresh > 0 ? `Messages, ${fresh} new` : 'Messages'} position="relative">
          <BellSign size={20} aria-hidden />
          {fresh > 0 ? (
            <Box
              position="absolute"
              top="4px"
              right="4px"
              minW="18px"
              h="18px"
              px="1"
              borderRadius="pill"
              bg="madder"
              color="onStrong"
              fontSize="xs"
              fontWeight="bold"
              lineHeight="18px"
            >
              {fresh}
            </Box>
          ) : null}
        </IconButton>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content
            aria-label="Messages"
            bg="card"
            borderWidth="1px"
            borderColor="seam"
            borderRadius="card"
            w="360px"
            maxW="92vw"
          >
            <Popover.Body p="0">
              <Heading as="h2" fontSize="md" px="4" pt="4" pb="2">
                Messages
              </Heading>
              <Stack as="ul" listStyleType="none" gap="0" maxH="60vh" overflowY="auto" tabIndex={0}>
                {notices.map((notice) => (
                  <Box as="li" key={notice.id} borderTopWidth="1px" borderColor="seam">
                    <NextLink href={addressOf(notice)}>
                      <Flex gap="3" px="4" py="3" _hover={{ bg: 'felt' }}>
                        <Box
                          mt="7px"
                          w="8px"
                          h="8px"
                          flexShrink="0"
                          borderRadius="pill"
                          bg={marked.has(notice.id) ? 'madder' : 'transparent'}
                        />
                        <Box minW="0">
                          <Text fontSize="sm" fontWeight={marked.has(notice.id) ? 'bold' : 'normal'}>
                            {noticeSentence(notice)}
                          </Text>
                          {notice.reason ? (
                            <Text fontSize="sm" lineClamp={2}>
                              {notice.reason}
                            </Text>
                          ) : null}
                          <Text fontSize="sm" color="softInk">
                            {notice.projectName}, <Time at={notice.createdAt} />
                          </Text>
                        </Box>
                      </Flex>
                    </NextLink>
                  </Box>
                ))}
              </Stack>
              {notices.length === 0 ? (
                <Text px="4" pb="4" fontSize="sm" color="softInk">
                  Nothing yet. When a file that you brought in is published, or is not, you hear of it here.
                </Text>
              ) : null}
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}

function addressOf({ kind, projectId, revisionId }: Notice): string {
  return `/projects/${projectId}/prepare${kind === 'ready' ? `/${revisionId}` : ''}`;
}
