'use client';
import { Box, Button, type BoxProps } from '@chakra-ui/react';
import { useEffect, useMemo, useRef } from 'react';
import type { Vec3 } from '@/core/math/mat4';
import type { ElementRef } from '@/core/elements/element-ref';
import { useReview, useSession } from '../session-context';
import { pinned } from './paint-pins';

const REST_MS = 150;
/** Opacity of what lies behind something. */
const COVERED = '0.3';

/** Comment pins and the others' pointers, laid over the model and moved with every frame; faint behind walls. */
export function Overlay() {
  const session = useSession();
  const layer = useRef<HTMLDivElement>(null);
  const comments = useReview((state) => state.comments);
  const pointers = useReview((state) => state.pointers);
  const agreed = useReview((state) => state.agreed);
  const draft = useReview((state) => state.draft);
  const eyes = useReview((state) => state.eyes);

  const places = useMemo(() => {
    const out = new Map<string, { point: Vec3; element: ElementRef | null }>();
    for (const comment of comments) if (comment.anchor && !comment.replyTo) out.set(comment.id, comment.anchor);
    for (const [id, pointer] of Object.entries(pointers)) out.set(id, { point: pointer.point, element: null });
    if (draft) out.set('draft', draft);
    return out;
  }, [comments, pointers, draft]);

  useEffect(() => {
    const put = () => {
      for (const child of layer.current?.children ?? []) {
        if (!(child instanceof HTMLElement)) continue;
        const { figure } = child.dataset;
        if (figure !== undefined) {
          const head = session.stage?.nameplaceOf(figure) ?? null;
          child.style.visibility = head ? 'visible' : 'hidden';
          if (head) child.style.transform = `translate(${head.x}px, ${head.y}px)`;
          continue;
        }
        const place = places.get(child.dataset.place ?? '');
        const isThere = place && !session.stage?.isCutAway(place.point, place.element);
        const at = isThere ? session.stage?.project(place.point, place.element) : null;
        child.style.visibility = at ? 'visible' : 'hidden';
        if (at) child.style.transform = `translate(${at.x}px, ${at.y}px)`;
      }
    };
    // Whether a wall stands in front is only asked once the picture rests.
    let rest: ReturnType<typeof setTimeout> | undefined;
    const fade = () => {
      for (const child of layer.current?.children ?? []) {
        if (!(child instanceof HTMLElement) || child.dataset.figure !== undefined) continue;
        const place = places.get(child.dataset.place ?? '');
        child.style.opacity = place && session.stage?.isCovered(place.point, place.element) ? COVERED : '1';
      }
    };
    const onFrame = () => {
      put();
      clearTimeout(rest);
      rest = setTimeout(fade, REST_MS);
    };
    onFrame();
    const stop = session.onFrame(onFrame);
    return () => {
      stop();
      clearTimeout(rest);
    };
  }, [session, places]);

  return (
    <Box
      ref={layer}
      as="section"
      aria-label="Pins and people in the model"
      position="absolute"
      inset="0"
      pointerEvents="none"
      overflow="hidden"
      zIndex="5"
    >
      {pinned(comments).map((comment) => (
        <Box key={comment.id} data-place={comment.id} position="absolute" top="0" left="0">
          <Button
            aria-label={`Comment ${comment.number} by ${comment.author}`}
            onClick={() => session.act(() => session.showComment(comment))}
            pointerEvents="auto"
            position="absolute"
            left="0"
            bottom="0"
            minW="32px"
            h="32px"
            p="0"
            borderRadius="16px 16px 16px 3px"
            bg={comment.guest ? 'indigo' : 'ink'}
            color="onStrong"
            fontWeight="bold"
            fontSize="sm"
            borderWidth="2px"
            borderColor="card"
          >
            {comment.number}
          </Button>
        </Box>
      ))}
      {Object.keys(pointers).map((id) => {
        const person = agreed?.participants.find((participant) => participant.id === id);
        return person ? (
          <Box key={id} data-place={id} data-testid="pointer" position="absolute" top="0" left="0">
            <Box
              position="absolute"
              left="-8px"
              top="-8px"
              w="16px"
              h="16px"
              borderRadius="50%"
              borderWidth="3px"
              borderColor={id === agreed?.lead ? 'madder' : 'indigo'}
              bg="card"
            />
            <NameBadge name={person.name} isLead={id === agreed?.lead} left="14px" top="4px" />
          </Box>
        ) : null;
      })}
      {Object.entries(eyes).map(([id, { stands }]) => {
        const person = stands === null ? undefined : agreed?.participants.find((participant) => participant.id === id);
        return person ? (
          <Box key={id} data-figure={id} data-testid="figure" position="absolute" top="0" left="0">
            <NameBadge name={person.name} isLead={id === agreed?.lead} transform="translate(-50%, -100%)" />
          </Box>
        ) : null;
      })}
      {draft ? (
        <Box data-place="draft" position="absolute" top="0" left="0">
          <Box
            position="absolute"
            left="-9px"
            top="-9px"
            w="18px"
            h="18px"
            borderRadius="50%"
            borderWidth="4px"
            borderColor="indigo"
            bg="card"
          />
        </Box>
      ) : null}
    </Box>
  );
}

/** Who it is that points or stands there. */
function NameBadge({ name, isLead, ...box }: BoxProps & { name: string; isLead: boolean }) {
  return (
    <Box
      position="absolute"
      px="2"
      py="0.5"
      borderRadius="pill"
      bg={isLead ? 'madder' : 'indigo'}
      color="onStrong"
      fontSize="xs"
      fontWeight="bold"
      whiteSpace="nowrap"
      {...box}
    >
      {name}
    </Box>
  );
}
