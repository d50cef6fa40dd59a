'use client';
import { Box, Flex, Grid, Text } from '@chakra-ui/react';
import { Undo2 } from 'lucide-react';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { PLACES_TOLD } from '@/core/measure/growing';
import { KIND_WORDS, MEASURE_KINDS, type MeasureKind } from '@/core/measure/measures';
import { RowAct } from '../../../controls';
import { useReview, useSession } from '../../session-context';
import { TrayAct, TrayCard } from '../tray';
import { MeasureList } from './measure-list';
import { measuringOf, nextWords, type HeldAxis } from './measuring';
import { ReadingChoice } from './reading-choice';
import { SnapChoice } from './snap-choice';

/** Short words for the choice; the lists have the long ones. */
const WORDS: Record<MeasureKind, string> = {
  distance: 'Distance',
  chain: 'Length',
  area: 'Area',
  angle: 'Angle',
  elements: 'Elements',
  clear: 'Width',
  face: 'Face',
  faces: 'Faces',
  round: 'Radius',
  height: 'Height',
  room: 'Room',
  place: 'Place',
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
      session.stage?.showAim(null);
    },
    [session, measuring],
  );
  const { kind, places, axis, trouble } = hand;
  const isOpen = PLACES_TOLD[kind] === null && places.length > 1;
  return (
    <TrayCard label="Measure" width="320px">
      <Grid templateColumns="repeat(4, 1fr)" gap="1" role="group" aria-label="What is measured">
        {MEASURE_KINDS.map((one) => (
          <TrayAct key={one} pressed={one === kind} hint={KIND_WORDS[one]} onClick={() => measuring.takeUp(one)}>
            {WORDS[one]}
          </TrayAct>
        ))}
      </Grid>
      <Box mt="2.5" minH="24px">
        <Text fontSize="sm" role="status">
          {spread ? 'Things stand beside their places. Put them back to measure.' : nextWords(hand)}
        </Text>
        {trouble ? (
          <Text fontSize="sm" color="madder" role="alert">
            {trouble}
          </Text>
        ) : null}
      </Box>
      <Flex gap="1" mt="1.5" align="center">
        <Text fontSize="sm" color="softInk" id="held-axis">
          Along
        </Text>
        <Flex gap="1" role="group" aria-labelledby="held-axis" flex="1">
          {AXES.map(([name, word]) => (
            <TrayAct key={name} pressed={axis === name} onClick={() => measuring.hold(name)}>
              {word}
            </TrayAct>
          ))}
        </Flex>
        {places.length > 0 ? (
          <RowAct label="One place back" icon={<Undo2 size={16} aria-hidden />} onClick={() => measuring.back()} />
        ) : null}
      </Flex>
      {isOpen ? (
        <Box mt="2">
          <TrayAct onClick={() => measuring.finish()}>End here</TrayAct>
        </Box>
      ) : null}
      <SnapChoice measuring={measuring} />
      <ReadingChoice />
      <MeasureList measuring={measuring} />
    </TrayCard>
  );
}
