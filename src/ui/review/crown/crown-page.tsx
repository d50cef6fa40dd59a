'use client';
import { Box, Flex } from '@chakra-ui/react';
import { CrownMap } from './crown-map';
import { Ladder } from './ladder';
import { useLevelOfEyes } from './use-level-of-eyes';
import { useLevels } from './use-levels';
import { useSize } from './use-size';

/** The plan as a page of its own. */
export function CrownPage() {
  const levels = useLevels();
  const { at, setAt } = useLevelOfEyes(levels);
  const { box, width, height } = useSize();
  return (
    <Flex h="full">
      <Box p="2">
        <Ladder levels={levels ?? []} at={at} onChoose={setAt} most={Math.max(120, height - 16)} />
      </Box>
      <Box ref={box} flex="1" minW="0" h="full">
        {levels ? (
          <CrownMap
            levels={levels}
            at={at}
            width={width}
            height={height}
            isRound={false}
            onStep={(by) => setAt(Math.min(levels.length - 1, Math.max(0, at + by)))}
          />
        ) : null}
      </Box>
    </Flex>
  );
}
