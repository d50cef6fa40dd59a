'use client';
import { Flex } from '@chakra-ui/react';
import { ThumbStick } from './moving/thumb-stick';
import { OptionSwitch } from './option-switch';
import { useReview, useSession } from './session-context';

/** Above the running order on the left: the design options and, while somebody stands or flies, the thumb stick over them. */
export function LowerLeft() {
  const session = useSession();
  const gait = useReview((state) => state.gait);
  const arranged = useReview((state) => state.viewpoints.length > 0) || session.start.rights.arrange;
  return (
    <Flex
      position="absolute"
      zIndex="9"
      left={{ base: '8px', md: '20px' }}
      bottom={{ base: arranged ? '164px' : '92px', md: arranged ? '176px' : '16px' }}
      direction="column"
      align="start"
      gap="2"
      maxW="calc(100vw - 16px)"
      css={{ '&&': { pointerEvents: 'none' }, '& > *': { pointerEvents: 'auto' } }}
    >
      {gait ? <ThumbStick /> : null}
      <OptionSwitch />
    </Flex>
  );
}
