'use client';
import { Box, Dialog, Flex, Heading, Portal, Stack, Text, Textarea } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useEffect, useState } from 'react';
import type { MeetingSummary } from '@/core/meeting/meeting-record';
import type { MinutesCorrections, MinutesDraft } from '@/core/meeting/minutes-corrections';
import { api, messageOf } from '../api';
import { Card, PrimaryButton, QuietButton, Trouble } from '../controls';
import { Tick } from '../tick';
import { Time } from '../time';

interface MeetingsHeldProps {
  projectId: string;
  meetings: readonly MeetingSummary[];
  /** Whether this person leads the project's meetings, and whether its minutes wait to be read. */
  isLead: boolean;
  isHeld: boolean;
  onSent: (id: string) => void;
}

/** The meetings that were held: their minutes, to be read, corrected and sent; and the meeting itself, to be seen again. */
export function MeetingsHeld({ projectId, meetings, isLead, isHeld, onSent }: MeetingsHeldProps) {
  const [holds, setHolds] = useState(isHeld);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [corrected, setCorrected] = useState<string | null>(null);
  if (meetings.length === 0) return null;
  const hold = (held: boolean) => {
    setHolds(held);
    api.put(`/api/projects/${projectId}/minutes`, { held }).catch((error: unknown) => {
      setHolds(!held);
      setTrouble(messageOf(error));
    });
  };
  return (
    <Box as="section" aria-label="Meetings" mt="10">
      <Flex align="center" gap="4" wrap="wrap" mb="3">
        <Heading as="h2" fontSize="xl" flex="1">
          Meetings
        </Heading>
        {isLead ? (
          <Tick checked={holds} onTick={hold}>
            I read minutes before they are sent
          </Tick>
        ) : null}
      </Flex>
      <Trouble text={trouble} />
      <Stack as="ul" listStyleType="none" gap="2">
        {meetings.map(({ id, title, startedAt, endedAt, waits }) => (
          <Card
            as="li"
            key={id}
            px="4"
            py="3"
            borderRadius="12px"
            display="flex"
            alignItems="center"
            gap="2"
            flexWrap="wrap"
          >
            <Box flex="1" minW="200px">
              <Text fontWeight="bold" truncate dir="auto">
                {title}
              </Text>
              <Text color="softInk" fontSize="sm">
                <Time at={startedAt} />
                {endedAt ? (
                  <>
                    {' to '}
                    <Time at={endedAt} show="time" />
                  </>
                ) : (
                  ', going on'
                )}
                {waits ? (
                  <Text as="span" color="madder" fontWeight="bold">
                    {' '}
                    · minutes wait for you
                  </Text>
                ) : null}
              </Text>
            </Box>
            {isLead && endedAt ? (
              <QuietButton onClick={() => setCorrected(id)} aria-label={`Correct the minutes of ${title}`}>
                {waits ? 'Read and send' : 'Correct'}
              </QuietButton>
            ) : null}
            {endedAt ? (
              <QuietButton asChild>
                <NextLink href={`/projects/${projectId}/review?replay=${id}`} aria-label={`See ${title} again`}>
                  See it again
                </NextLink>
              </QuietButton>
            ) : null}
            <QuietButton asChild>
              <a
                href={`/api/meetings/${id}/minutes.pdf`}
                target="_blank"
                rel="noreferrer"
                aria-label={`Minutes of ${title} as PDF`}
              >
                Minutes as PDF
              </a>
            </QuietButton>
          </Card>
        ))}
      </Stack>
      {corrected ? (
        <Correcting id={corrected} onSent={() => onSent(corrected)} onClose={() => setCorrected(null)} />
      ) : null}
    </Box>
  );
}

/** Minutes as they will be read: a foreword, other words, what is left out. */
function Correcting({ id, onSent, onClose }: { id: string; onSent: () => void; onClose: () => void }) {
  const address = `/api/meetings/${id}/minutes`;
  const [draft, setDraft] = useState<MinutesDraft | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [isBusy, setBusy] = useState(false);
  useEffect(() => {
    let isWanted = true;
    api.get<MinutesDraft>(address).then(
      (found) => isWanted && setDraft(found),
      (error: unknown) => isWanted && setTrouble(messageOf(error)),
    );
    return () => {
      isWanted = false;
    };
  }, [address]);
  const set = (change: Partial<MinutesCorrections>) =>
    draft && setDraft({ ...draft, corrections: { ...draft.corrections, ...change } });
  const save = async (andSend: boolean) => {
    setBusy(true);
    try {
      await api.put(address, draft!.corrections);
      if (andSend) {
        await api.post(address, {});
        onSent();
      }
      onClose();
    } catch (error) {
      setTrouble(messageOf(error));
      setBusy(false);
    }
  };
  return (
    <Dialog.Root open onOpenChange={({ open }) => !open && onClose()} scrollBehavior="inside" size="lg">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="card" borderRadius="card">
            <Dialog.Header>
              <Dialog.Title>Minutes of {draft?.meeting.title ?? '…'}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Trouble text={trouble} />
              {draft ? (
                <Stack gap="4">
                  <Box>
                    <Text asChild fontWeight="bold" fontSize="sm" mb="1">
                      <label htmlFor="foreword">Foreword</label>
                    </Text>
                    <Textarea
                      id="foreword"
                      rows={3}
                      dir="auto"
                      borderColor="seam"
                      maxLength={10_000}
                      value={draft.corrections.foreword}
                      onChange={(event) => set({ foreword: event.target.value })}
                    />
                  </Box>
                  {draft.said.length === 0 ? <Text color="softInk">Nothing was said.</Text> : null}
                  {draft.said.map((one) => (
                    <Correction
                      key={one.id}
                      said={one}
                      words={draft.corrections.words[one.id]}
                      isLeft={draft.corrections.left.includes(one.id)}
                      onWords={(text) => {
                        const { [one.id]: _, ...others } = draft.corrections.words;
                        set({ words: text === one.text ? others : { ...others, [one.id]: text } });
                      }}
                      onLeft={(isLeft) =>
                        set({
                          left: isLeft
                            ? [...draft.corrections.left, one.id]
                            : draft.corrections.left.filter((other) => other !== one.id),
                        })
                      }
                    />
                  ))}
                </Stack>
              ) : null}
            </Dialog.Body>
            <Dialog.Footer gap="2" flexWrap="wrap">
              <QuietButton onClick={onClose}>Cancel</QuietButton>
              <QuietButton disabled={!draft || isBusy} onClick={() => void save(false)}>
                Save
              </QuietButton>
              {draft?.meeting.waits ? (
                <PrimaryButton loading={isBusy} onClick={() => void save(true)}>
                  Save and send
                </PrimaryButton>
              ) : null}
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

interface CorrectionProps {
  said: MinutesDraft['said'][number];
  words: string | undefined;
  isLeft: boolean;
  onWords: (text: string) => void;
  onLeft: (isLeft: boolean) => void;
}

function Correction({ said: { number, author, text }, words, isLeft, onWords, onLeft }: CorrectionProps) {
  return (
    <Box opacity={isLeft ? 0.6 : 1}>
      <Flex align="center" gap="3" mb="1">
        <Text fontSize="sm" flex="1">
          <b>{number}</b> {author}
          {words === undefined ? '' : ' · other words in the minutes'}
        </Text>
        <Tick checked={isLeft} onTick={onLeft} aria-label={`Leave out number ${number}`}>
          Leave out
        </Tick>
      </Flex>
      <Textarea
        aria-label={`Words of number ${number} in the minutes`}
        rows={2}
        dir="auto"
        borderColor="seam"
        maxLength={4000}
        disabled={isLeft}
        value={words ?? text}
        onChange={(event) => onWords(event.target.value)}
      />
    </Box>
  );
}
