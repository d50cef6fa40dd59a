'use client';
import { Box, Flex } from '@chakra-ui/react';
import type { ReactNode, RefObject } from 'react';
import { Card, Note } from '../controls';
import { StageElement } from '../stage-element';

interface StageAndCardProps {
  /** Where the stage is put. */
  element: RefObject<HTMLDivElement | null>;
  /** What the card is about, for screen readers. */
  label: string;
  /** Whether something of the model is still on its way. */
  loading: boolean;
  /** Whether the next press on the model picks a point; Escape ends that. */
  picking?: boolean;
  onEscape?: () => void;
  children: ReactNode;
}

/** A model over the whole page, with a card of decisions beside it; below it on narrow screens. */
export function StageAndCard({ element, label, loading, picking = false, onEscape, children }: StageAndCardProps) {
  return (
    <Flex as="main" position="fixed" inset="0" pt="56px" direction={{ base: 'column', lg: 'row' }} bg="paper">
      <Box position="relative" flex="1" minH="240px">
        <StageElement element={element} picking={picking} onEscape={onEscape} />
        <Flex position="absolute" top="3" left="0" right="0" justify="center" role="status" pointerEvents="none">
          {loading ? <Note text="The model is arriving …" /> : null}
        </Flex>
      </Box>
      <Card
        as="section"
        aria-label={label}
        w={{ base: 'auto', lg: '400px' }}
        m={{ base: '3', lg: '5' }}
        ml={{ lg: '0' }}
        display="flex"
        flexDirection="column"
        minH="0"
        overflow="hidden"
      >
        {children}
      </Card>
    </Flex>
  );
}
