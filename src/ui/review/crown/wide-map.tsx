'use client';
import { Box, Flex } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { CrownMap } from './crown-map';
import { Ladder } from './ladder';
import type { Level } from './levels';
import { useSize } from './use-size';

/** Pixels that the ladder is never lower than, and what one act above it takes. */
const LEAST_LADDER = 100;
const ACT = 50;

export interface MapProps {
  levels: Level[];
  /** The level that shows. */
  at: number;
  onChoose: (at: number) => void;
  onStep: (by: 1 | -1) => void;
}

/** The map as large as there is room, with the storeys beside it. @param acts buttons above the storeys */
export function WideMap({ levels, at, onChoose, onStep, acts = [] }: MapProps & { acts?: ReactNode[] }) {
  const { box, width, height } = useSize();
  return (
    <>
      <Flex direction="column" gap="2" p="2" align="center">
        {acts}
        <Ladder
          levels={levels}
          at={at}
          onChoose={onChoose}
          most={Math.max(LEAST_LADDER, height - 16 - ACT * acts.length)}
        />
      </Flex>
      <Box ref={box} flex="1" minW="0" h="full">
        <CrownMap levels={levels} at={at} width={width} height={height} isRound={false} onStep={onStep} />
      </Box>
    </>
  );
}
