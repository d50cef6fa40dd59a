'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { PLACES_TOLD } from '@/core/measure/growing';
import { KIND_WORDS, MEASURE_KINDS, type MeasureKind } from '@/core/measure/measures';
import { useReview, useSession } from '../../session-context';
import { TrayAct, TrayCard } from '../tray';
import { MeasureList } from './measure-list';
import { measuringOf, nextWords, type HeldAxis } from './measuring';
import { ReadingChoice } from './reading-choice';
import { SnapChoice } from './snap-choice';

/** Short words for the choice; the lists have the long ones. */
const WORDS: Record<MeasureKind, string> = {
  ...KIND_WORDS,
  elements: 'Element to element',
  face: 'Face',
  faces: 'Two faces',
  height: 'Height',
};

const AXES: [HeldAxis, string][] = [
  ['x', 'x'],
  ['y', 'y'],
  ['z', 'z'],
  ['nearest', 'nearest'],
];

/** What is measured, what places may be taken for, how figures are read, and the list. */
export function MeasureTray() {
  const session = useSession();
  const measuring = measuringOf(session);
  const hand = useStore(measuring.hand);
  const spread = useReview((state) => state.view.spread);
  useEffect(
    () => () => {
      measuring.abandon();
      measuring.choose(null);
      session.stage?.showMark(null);
    },
    [session, measuring],
  );
  const { kind, places, axis, trouble } = hand;
  const isOpen = PLACES_TOLD[kind] === null && places.length > 1;
  return (
    <TrayCard label="Measure" width="320px">
      <Flex gap="1.5" wrap="wrap" role="group" aria-label="What is measured">
        {MEASURE_KINDS.map((one) => (
          <TrayAct key={one} pressed={one === kind} onClick={() => measuring.takeUp(one)}>
            {WORDS[one]}
          </TrayAct>
        ))}
      </Flex>
      <Box mt="3" minH="44px">
        {spread ? (
          <Text fontSize="sm">Things stand beside their places. Put them back to measure.</Text>
        ) : (
          <Text fontSize="sm" role="status">
            {nextWords(hand)}
          </Text>
        )}
        {trouble ? (
          <Text fontSize="sm" color="madder" role="alert">
            {trouble}
          </Text>
        ) : null}
      </Box>
      <Flex gap="1.5" wrap="wrap" align="center">
        <Text fontSize="sm" color="softInk" id="held-axis">
          Along
        </Text>
        <Flex gap="1" role="group" aria-labelledby="held-axis">
          {AXES.map(([name, word]) => (
            <TrayAct key={name} pressed={axis === name} onClick={() => measuring.hold(name)}>
              {word}
            </TrayAct>
          ))}
        </Flex>
        {places.length > 0 ? <TrayAct onClick={() => measuring.back()}>One place back</TrayAct> : null}
        {isOpen ? <TrayAct onClick={() => measuring.finish()}>End here</TrayAct> : null}
      </Flex>
      <SnapChoice measuring={measuring} />
      <ReadingChoice />
      <MeasureList measuring={measuring} />
    </TrayCard>
  );
}
