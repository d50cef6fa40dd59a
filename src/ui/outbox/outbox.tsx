'use client';
import { Box, Grid, Heading, Link, Stack, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { OutboxMail } from '@/core/project/outbox-mail';
import { Card } from '../controls';
import { Time } from '../time';

/** What the stand-in mail server was handed: a list, and the mail that was chosen. */
export function Outbox({ mails }: { mails: OutboxMail[] }) {
  const [chosen, setChosen] = useState(mails[0]?.id ?? null);
  const mail = mails.find(({ id }) => id === chosen);
  return (
    <Box as="main" maxW="1180px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
      <Heading as="h1" fontSize="3xl">
        Outbox
      </Heading>
      <Text color="softInk" mb="6">
        No mail leaves this installation: what would have been mailed to you is kept here instead.
      </Text>
      {mails.length === 0 ? (
        <Text color="softInk">No mail yet. It is written when you do not see a message under the bell in time.</Text>
      ) : (
        <Grid templateColumns={{ base: '1fr', md: '360px 1fr' }} gap="5" alignItems="start">
          <Card as="section" aria-label="Mails" overflow="hidden">
            <Stack as="ul" listStyleType="none" gap="0">
              {mails.map(({ id, subject, sentAt }) => (
                <Box as="li" key={id} _notFirst={{ borderTopWidth: '1px' }} borderColor="seam">
                  <Box
                    as="button"
                    w="full"
                    textAlign="start"
                    px="4"
                    py="3"
                    cursor="pointer"
                    bg={id === chosen ? 'felt' : 'transparent'}
                    _hover={{ bg: 'felt' }}
                    aria-current={id === chosen ? 'true' : undefined}
                    onClick={() => setChosen(id)}
                  >
                    <Text fontWeight="bold" fontSize="sm">
                      {subject}
                    </Text>
                    <Text fontSize="sm" color="softInk">
                      <Time at={sentAt} />
                    </Text>
                  </Box>
                </Box>
              ))}
            </Stack>
          </Card>
          {mail ? (
            <Card as="article" p="5" aria-label="The mail">
              <Heading as="h2" fontSize="lg">
                {mail.subject}
              </Heading>
              <Text fontSize="sm" color="softInk" mb="4">
                from {mail.from} to {mail.to}, <Time at={mail.sentAt} />
              </Text>
              <Text whiteSpace="pre-wrap" wordBreak="break-word">
                {withLinks(mail.text)}
              </Text>
            </Card>
          ) : null}
        </Grid>
      )}
    </Box>
  );
}

/** Addresses that stand on a line of their own become links. */
function withLinks(text: string) {
  return text.split(/^(https?:\/\/\S+)$/m).map((part, i) =>
    i % 2 === 1 ? (
      <Link key={i} href={part} textDecoration="underline" color="indigo">
        {part}
      </Link>
    ) : (
      part
    ),
  );
}
