'use client';
import { Box, Button, Flex, Popover, Portal, Stack, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { Field, PrimaryButton, QuietButton } from '../../controls';
import { useReview, useSession } from '../session-context';

/** Who is here and who leads; the meeting's code; starting and ending. */
export function People() {
  const session = useSession();
  const meeting = useReview((state) => state.meeting);
  const agreed = useReview((state) => state.agreed);
  const following = useReview((state) => state.following);
  if (meeting && !agreed)
    return (
      <Text fontSize="sm" color="softInk" role="status">
        Joining …
      </Text>
    );
  if (!meeting || !agreed) return session.start.rights.host ? <StartMeeting /> : null;
  const here = agreed.participants.filter((person) => person.present);
  const you = session.start.you.id;
  const lead = agreed.participants.find((person) => person.id === agreed.lead);
  return (
    <>
      {!session.meeting.isLead && lead ? (
        following ? (
          <Text fontSize="sm" color="softInk" display={{ base: 'none', md: 'block' }} role="status">
            You follow {lead.name}
          </Text>
        ) : (
          <PrimaryButton bg="indigo" size="sm" onClick={() => session.meeting.comeBack()}>
            Back to {lead.name.split(' ')[0]}
          </PrimaryButton>
        )
      ) : null}
      <Popover.Root positioning={{ placement: 'bottom-end' }}>
        <Popover.Trigger asChild>
          <Button
            variant="ghost"
            px="1"
            h="44px"
            borderRadius="pill"
            aria-label={here.length === 1 ? 'Only you here' : `${here.length} people here`}
          >
            <Flex>
              {here.slice(0, 4).map((person, i) => (
                <Flex
                  key={person.id}
                  w="34px"
                  h="34px"
                  ml={i === 0 ? '0' : '-8px'}
                  borderRadius="50%"
                  align="center"
                  justify="center"
                  bg={person.id === agreed.lead ? 'madder' : person.guest ? 'indigo' : 'softInk'}
                  color="onStrong"
                  fontSize="xs"
                  fontWeight="bold"
                  borderWidth="2px"
                  borderColor="card"
                  title={person.name}
                >
                  {initials(person.name)}
                </Flex>
              ))}
              {here.length > 4 ? (
                <Flex
                  w="34px"
                  h="34px"
                  ml="-8px"
                  borderRadius="50%"
                  align="center"
                  justify="center"
                  bg="felt"
                  color="ink"
                  fontSize="xs"
                  borderWidth="2px"
                  borderColor="card"
                >
                  +{here.length - 4}
                </Flex>
              ) : null}
            </Flex>
          </Button>
        </Popover.Trigger>
        <Portal>
          <Popover.Positioner>
            <Popover.Content bg="card" borderRadius="card" borderWidth="1px" borderColor="seam" w="300px">
              <Popover.Body>
                <Popover.Title fontWeight="bold" mb="2">
                  {agreed.title}
                </Popover.Title>
                <Stack as="ul" listStyleType="none" gap="1" aria-label="People here">
                  {here.map((person) => (
                    <Flex as="li" key={person.id} align="center" minH="44px" gap="2">
                      <Box flex="1">
                        <Text>
                          {person.name}
                          {person.id === you ? ' (you)' : ''}
                        </Text>
                        <Text fontSize="xs" color={agreed.asking.includes(person.id) ? 'ochre' : 'softInk'}>
                          {person.id === agreed.lead
                            ? 'leads'
                            : agreed.asking.includes(person.id)
                              ? 'asks for the lead'
                              : person.guest
                                ? 'guest'
                                : 'designer'}
                        </Text>
                      </Box>
                      {session.meeting.isLead && person.id !== you ? (
                        <QuietButton
                          size="sm"
                          onClick={() => session.meeting.act({ type: 'lead-passed', to: person.id })}
                        >
                          Pass the lead
                        </QuietButton>
                      ) : null}
                    </Flex>
                  ))}
                </Stack>
                <Flex gap="2" mt="3" wrap="wrap">
                  {!session.meeting.isLead && !session.start.rights.host ? (
                    <QuietButton
                      size="sm"
                      disabled={agreed.asking.includes(you)}
                      onClick={() => session.meeting.act({ type: 'lead-asked' })}
                    >
                      Ask for the lead
                    </QuietButton>
                  ) : null}
                  {!session.meeting.isLead && session.start.rights.host ? (
                    <QuietButton size="sm" onClick={() => session.meeting.act({ type: 'lead-taken' })}>
                      Take the lead back
                    </QuietButton>
                  ) : null}
                  {session.start.rights.host ? (
                    <QuietButton size="sm" onClick={() => session.meeting.act({ type: 'ended' })}>
                      End the meeting
                    </QuietButton>
                  ) : null}
                </Flex>
              </Popover.Body>
            </Popover.Content>
          </Popover.Positioner>
        </Portal>
      </Popover.Root>
      {meeting.code ? (
        <Box
          bg="madder"
          color="onStrong"
          borderRadius="pill"
          px={{ base: '3', md: '4' }}
          py="1.5"
          fontWeight="bold"
          aria-label="Meeting code"
          role="note"
          title="Guests enter this code at /join"
        >
          {meeting.code.replace(/(?<=\d)(?=(\d{3})+$)/g, ' ')}
        </Box>
      ) : null}
    </>
  );
}

function StartMeeting() {
  const session = useSession();
  const [title, setTitle] = useState('Design review');
  return (
    <Popover.Root positioning={{ placement: 'bottom-end' }}>
      <Popover.Trigger asChild>
        <PrimaryButton size="sm" aria-label="Start meeting">
          <span>
            Start
            <Box as="span" display={{ base: 'none', sm: 'inline' }}>
              {' '}
              meeting
            </Box>
          </span>
        </PrimaryButton>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content bg="card" borderRadius="card" borderWidth="1px" borderColor="seam" w="300px">
            <Popover.Body>
              <Stack gap="3">
                <Field
                  label="Title of the meeting"
                  value={title}
                  maxLength={120}
                  onChange={(event) => setTitle(event.target.value)}
                />
                <PrimaryButton disabled={!title.trim()} onClick={() => void session.meeting.start(title.trim())}>
                  Start
                </PrimaryButton>
              </Stack>
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}

function initials(name: string): string {
  const words = name.trim().split(/\s+/);
  return [words[0], words.length > 1 ? words.at(-1) : '']
    .map((word) => [...(word ?? '')][0] ?? '')
    .join('')
    .toLocaleUpperCase();
}
