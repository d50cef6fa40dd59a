'use client';
import { Button, Flex } from '@chakra-ui/react';
import { TOUCHED } from '../../controls';
import type { Level } from './levels';

interface LadderProps {
  levels: readonly Level[];
  at: number;
  onChoose: (at: number) => void;
  /** Pixels that it may be high. */
  most: number;
}

/** The storeys, the highest on top. */
export function Ladder({ levels, at, onChoose, most }: LadderProps) {
  if (levels.length < 2) return null;
  return (
    <Flex
      role="radiogroup"
      aria-label="Storeys"
      direction="column-reverse"
      gap="1"
      overflowY="auto"
      style={{ maxHeight: most }}
      css={{ scrollbarWidth: 'none' }}
    >
      {levels.map(({ name, short }, i) => (
        <Button
          key={`${name}/${i}`}
          role="radio"
          aria-checked={i === at}
          aria-label={name}
          title={name}
          onClick={() => onChoose(i)}
          flexShrink="0"
          minW="36px"
          px="1.5"
          h="30px"
          css={{ [TOUCHED]: { minW: '44px', h: '44px' } }}
          fontSize="sm"
          fontWeight="bold"
          borderRadius="l3"
          borderWidth="1px"
          borderColor="seam"
          bg={i === at ? 'ink' : 'card'}
          color={i === at ? 'wool' : 'ink'}
          _hover={{ bg: i === at ? 'ink' : 'felt' }}
        >
          {short}
        </Button>
      ))}
    </Flex>
  );
}
