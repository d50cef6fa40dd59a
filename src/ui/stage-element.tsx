'use client';
import { Box, type BoxProps } from '@chakra-ui/react';
import type { RefObject } from 'react';

interface StageElementProps extends BoxProps {
  /** Where the stage is put. */
  element: RefObject<HTMLDivElement | null>;
  /** Whether the next press on the model picks a point. */
  picking: boolean;
  onEscape?: () => void;
}

/** What a stage draws into, over all of its parent; it takes the keyboard. */
export function StageElement({ element, picking, onEscape, ...box }: StageElementProps) {
  return (
    <Box
      ref={element}
      position="absolute"
      inset="0"
      tabIndex={0}
      role="application"
      aria-label="3D model. Arrow keys turn, Shift and arrow keys move, plus and minus zoom."
      cursor={picking ? 'crosshair' : 'grab'}
      _focusVisible={{ boxShadow: 'inset 0 0 0 3px var(--chakra-colors-indigo)', outline: 'none' }}
      onKeyDown={(event) => event.key === 'Escape' && onEscape?.()}
      {...box}
    />
  );
}
