'use client';
import { Box } from '@chakra-ui/react';
import { useReview } from '../session-context';

/** The window that is being drawn on the picture. */
export function WindowFrame() {
  const drawn = useReview((state) => state.window);
  if (!drawn) return null;
  const { from, to } = drawn;
  return (
    <Box
      position="fixed"
      zIndex="6"
      pointerEvents="none"
      borderWidth="2px"
      borderStyle="dashed"
      borderColor="indigo"
      bg="color-mix(in srgb, var(--chakra-colors-indigo) 10%, transparent)"
      style={{
        left: Math.min(from.x, to.x),
        top: Math.min(from.y, to.y),
        width: Math.abs(to.x - from.x),
        height: Math.abs(to.y - from.y),
      }}
    />
  );
}
