'use client';
import { Box } from '@chakra-ui/react';
import { useRef, useState, type PointerEvent } from 'react';
import { TOUCHED } from '../../controls';
import { useSession } from '../session-context';

/** Pixels from the middle at which one walks at full pace. */
const REACH = 44;
const SIZE = 124;

/** The left thumb walks; the right one looks about, anywhere on the picture. There where fingers point. */
export function ThumbStick() {
  const session = useSession();
  const pad = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState({ x: 0, y: 0 });
  const move = (event: PointerEvent) => {
    const bounds = pad.current!.getBoundingClientRect();
    const zoom = bounds.width / SIZE;
    const x = (event.clientX - (bounds.left + bounds.width / 2)) / zoom;
    const y = (event.clientY - (bounds.top + bounds.height / 2)) / zoom;
    const length = Math.max(1, Math.hypot(x, y) / REACH);
    setAt({ x: x / length, y: y / length });
    session.stage?.walking.wish('thumb', {
      ahead: -y / length / REACH,
      aside: x / length / REACH,
      turn: 0,
      up: 0,
    });
  };
  const release = () => {
    setAt({ x: 0, y: 0 });
    session.stage?.walking.wish('thumb', null);
  };
  return (
    <Box
      ref={pad}
      data-testid="thumb-stick"
      aria-hidden
      // On a larger screen beside the column of verbs.
      ml={{ base: '3', md: '92px' }}
      w={`${SIZE}px`}
      h={`${SIZE}px`}
      borderRadius="50%"
      borderWidth="1.5px"
      borderColor="seam"
      bg="color-mix(in srgb, var(--chakra-colors-card) 72%, transparent)"
      display="none"
      alignItems="center"
      justifyContent="center"
      css={{ touchAction: 'none', [TOUCHED]: { display: 'flex' } }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        move(event);
      }}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) move(event);
      }}
      onPointerUp={release}
      onPointerCancel={release}
    >
      <Box
        w="52px"
        h="52px"
        borderRadius="50%"
        bg="ink"
        opacity="0.85"
        style={{ transform: `translate(${at.x}px, ${at.y}px)` }}
      />
    </Box>
  );
}
