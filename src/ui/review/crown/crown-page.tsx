'use client';
import { Flex } from '@chakra-ui/react';
import { useLevelOfEyes } from './use-level-of-eyes';
import { useLevels } from './use-levels';
import { WideMap } from './wide-map';

/** The plan as a page of its own. */
export function CrownPage() {
  const levels = useLevels();
  const level = useLevelOfEyes(levels);
  return <Flex h="full">{levels ? <WideMap levels={levels} {...level} /> : null}</Flex>;
}
