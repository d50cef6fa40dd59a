'use client';
import { Flex, Heading, Stack, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { Card, QuietButton } from '../../controls';
import { useReview, useSession } from '../session-context';

/** Shown over everything when this person's right to look has ended; what they said is kept. */
export function Farewell() {
  const { start } = useSession();
  const ended = useReview((state) => state.ended);
  if (!ended) return null;
  const guest = !start.rights.stations;
  return (
    <Flex position="absolute" inset="0" zIndex="30" bg="wool/85" align="center" justify="center" p="4">
      <Card role="alertdialog" aria-labelledby="farewell-title" maxW="440px" p="6">
        <Stack gap="3">
          <Heading as="h2" id="farewell-title" fontSize="xl">
            {guest ? 'Your visit has ended' : 'You are signed out'}
          </Heading>
          <Text>
            {guest
              ? 'The meeting is over, or the architect has withdrawn the link. What you said is kept with the project and goes into the minutes.'
              : 'Your session has ended, or you no longer belong to this project. Everything that was saved is kept.'}
          </Text>
          <Text color="softInk" fontSize="sm">
            {guest ? 'To come back, ask the architect for a new link or code.' : 'Sign in to go on.'}
          </Text>
          <QuietButton asChild alignSelf="start">
            <NextLink href={guest ? '/join' : '/sign-in'}>{guest ? 'Enter another code' : 'Sign in'}</NextLink>
          </QuietButton>
        </Stack>
      </Card>
    </Flex>
  );
}
