'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { Pause, Play, SkipBack, SkipForward } from 'lucide-react';
import NextLink from 'next/link';
import { useState } from 'react';
import type { Moment } from '@/core/meeting/recording';
import { Card, IconButton, PrimaryButton, QuietButton } from '../../controls';
import { SmallSelect } from '../../small-select';
import { Tick } from '../../tick';
import { Time } from '../../time';
import { useReview, useSession } from '../session-context';
import { SPEEDS, type Speed } from './replaying';

const MOMENT_COLOURS: Record<Moment['kind'], string> = {
  viewpoint: 'softInk',
  comment: 'indigo',
  decision: 'madder',
  action: 'ochre',
};
const MOMENT_WORDS: Record<Moment['kind'], string> = {
  viewpoint: 'Viewpoint',
  comment: 'Comment',
  decision: 'Decision',
  action: 'Action',
};

/** A meeting of the past on a line of time: play, hold on, go to what was shown, said and decided. */
export function ReplayBar() {
  const session = useSession();
  const replay = useReview((state) => state.replay);
  const [isList, setList] = useState(false);
  const { replaying, start } = session;
  if (!replay || !replaying || !start.replay) return null;
  const { isPlaying, speed, skips, at, length, moments, lead, follows } = replay;
  const { meeting } = start.replay.recording;
  const last = moments.findLast((moment) => moment.at <= at + 0.05);
  return (
    <Card
      as="section"
      aria-label="The meeting again"
      data-covers
      position="absolute"
      zIndex="9"
      left={{ base: '8px', md: '20px' }}
      right={{ base: '8px', md: '20px' }}
      bottom={{ base: '92px', md: '16px' }}
      px="4"
      py={{ base: '2', md: '3' }}
    >
      <Flex gap="2" align="center" mb={{ base: '0', md: '2' }}>
        <Box flex="1" minW="0">
          <Text fontWeight="bold" truncate dir="auto">
            {meeting.title}
          </Text>
          <Text fontSize="sm" color="softInk" truncate>
            <Time at={meeting.startedAt} />
            {lead ? ` · ${lead} leads` : ''}
            {last ? ` · ${last.words}` : ''}
          </Text>
        </Box>
        {follows ? null : (
          <PrimaryButton bg="indigo" size="sm" onClick={() => replaying.comeBack()}>
            Back to the meeting
          </PrimaryButton>
        )}
        <QuietButton size="sm" minH="40px" aria-pressed={isList} onClick={() => setList(!isList)}>
          What happened
        </QuietButton>
        <QuietButton size="sm" minH="40px" asChild>
          <NextLink href={`/projects/${start.project.id}/follow-up`}>Done</NextLink>
        </QuietButton>
      </Flex>
      <Flex gap={{ base: '0', md: '2' }} align="center">
        <IconButton label="To the moment before" onClick={() => replaying.step(-1)}>
          <SkipBack size={18} aria-hidden />
        </IconButton>
        <IconButton
          label={isPlaying ? 'Hold on' : 'Play'}
          bg="ink"
          color="wool"
          _hover={{ bg: 'softInk' }}
          onClick={() => (isPlaying ? replaying.pause() : replaying.play())}
        >
          {isPlaying ? <Pause size={18} aria-hidden /> : <Play size={18} aria-hidden />}
        </IconButton>
        <IconButton label="To the next moment" onClick={() => replaying.step(1)}>
          <SkipForward size={18} aria-hidden />
        </IconButton>
        <Text fontSize="sm" fontVariantNumeric="tabular-nums" flexShrink="0" display={{ base: 'none', md: 'block' }}>
          {clock(at)} / {clock(length)}
        </Text>
        <Box position="relative" flex="1" minW="80px" h="44px" mx="2">
          <input
            type="range"
            aria-label="Moment of the meeting"
            aria-valuetext={`${clock(at)}${last ? `, ${last.words}` : ''}`}
            min={0}
            max={Math.max(length, 0.1)}
            step="any"
            value={at}
            style={{ width: '100%', height: '44px', accentColor: 'var(--chakra-colors-madder)' }}
            onChange={(event) => replaying.seek(Number(event.target.value))}
          />
          {moments.map(({ seq, at: when, kind }) => (
            <Box
              key={seq}
              position="absolute"
              bottom="2px"
              w="5px"
              h="9px"
              ml="-2px"
              borderRadius="2px"
              bg={MOMENT_COLOURS[kind]}
              pointerEvents="none"
              // The thumb of the slider is this wide: its middle goes from half of it to half of it before the end.
              style={{ left: `calc(8px + (100% - 16px) * ${length > 0 ? when / length : 0})` }}
            />
          ))}
        </Box>
        <Flex w="74px">
          <SmallSelect
            label="Speed"
            value={String(speed)}
            options={SPEEDS.map((one) => [String(one), `${one}×`] as const)}
            onChange={(next) => replaying.setSpeed(Number(next) as Speed)}
          />
        </Flex>
        <Tick
          checked={skips}
          onTick={(next) => replaying.setSkips(next)}
          flexShrink="0"
          display={{ base: 'none', md: 'inline-flex' }}
        >
          Leave out pauses
        </Tick>
      </Flex>
      {isList ? (
        <Card
          as="ul"
          listStyleType="none"
          position="absolute"
          right="0"
          bottom="calc(100% + 8px)"
          w="min(460px, 100%)"
          maxH="min(290px, 40vh)"
          overflowY="auto"
          p="2"
          aria-label="What happened"
          tabIndex={0}
        >
          {moments.length === 0 ? <Text color="softInk">Nothing was shown or said.</Text> : null}
          {moments.map((moment) => (
            <li key={moment.seq}>
              <QuietButton
                w="full"
                justifyContent="start"
                minH="40px"
                border="none"
                borderRadius="8px"
                px="2"
                fontWeight={moment === last ? 'bold' : 'normal'}
                onClick={() => replaying.seek(moment.at)}
              >
                <Text
                  as="span"
                  fontVariantNumeric="tabular-nums"
                  color="softInk"
                  w="52px"
                  flexShrink="0"
                  textAlign="left"
                >
                  {clock(moment.at)}
                </Text>
                <Text as="span" w="84px" flexShrink="0" textAlign="left" color={MOMENT_COLOURS[moment.kind]}>
                  {MOMENT_WORDS[moment.kind]}
                </Text>
                <Text as="span" truncate dir="auto">
                  {moment.words}
                </Text>
              </QuietButton>
            </li>
          ))}
        </Card>
      ) : null}
    </Card>
  );
}

function clock(seconds: number): string {
  const whole = Math.floor(seconds);
  const [hours, minutes, rest] = [Math.floor(whole / 3600), Math.floor((whole % 3600) / 60), whole % 60];
  const two = (value: number) => String(value).padStart(2, '0');
  return hours > 0 ? `${hours}:${two(minutes)}:${two(rest)}` : `${minutes}:${two(rest)}`;
}
