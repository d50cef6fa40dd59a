'use client';
import { Box, Flex } from '@chakra-ui/react';
import { useStore } from 'zustand';
import { SNAP_KINDS, type SnapKind } from '@/core/snap/choose-snap';
import { TrayAct } from '../tray';
import type { Measuring } from './measuring';

const WORDS: Record<SnapKind, string> = {
  corner: 'Corners',
  edge: 'Edges',
  middle: 'Middles',
  crossing: 'Crossings',
  centre: 'Centres',
  'centre line': 'Centre lines',
  square: 'Square to',
  face: 'Faces',
};

/** What places may be taken for. */
export function SnapChoice({ measuring }: { measuring: Measuring }) {
  const kinds = useStore(measuring.hand, (hand) => hand.kinds);
  const count = SNAP_KINDS.filter((kind) => kinds.has(kind)).length;
  return (
    <Box as="details" mt="2" borderTopWidth="1px" borderColor="seam">
      <Box as="summary" cursor="pointer" fontSize="sm" py="2.5">
        Takes {count === SNAP_KINDS.length ? 'whatever is nearest' : `${count} of ${SNAP_KINDS.length} kinds of places`}
      </Box>
      <Flex gap="1.5" wrap="wrap" pb="2" role="group" aria-label="What a place is taken for">
        {SNAP_KINDS.map((kind) => (
          <TrayAct key={kind} pressed={kinds.has(kind)} onClick={() => measuring.switchKind(kind)}>
            {WORDS[kind]}
          </TrayAct>
        ))}
      </Flex>
    </Box>
  );
}
