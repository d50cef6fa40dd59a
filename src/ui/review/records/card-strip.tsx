'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { defaultRangeExtractor, useVirtualizer, type Range } from '@tanstack/react-virtual';
import { Fragment, useEffect, useMemo, useRef, useState, type FocusEvent, type ReactNode } from 'react';
import type { ViewpointCard } from '@/core/project/viewpoint-card';
import { useIsPhone } from '../../use-is-phone';

/** Pixels: cards, on a phone and elsewhere, the name of a group before its first card, and what lies between. */
const CARD = { phone: 120, other: 160 };
const MARK = 22;
const GAP = 12;
/** Cards on either side of the picture that are there already: for the keyboard, and for a quick finger. */
const AHEAD = 8;

/** Where a card stands in the strip. */
export interface CardPlace {
  /** In the running order, from 1. */
  number: number;
  /** Pixels from the strip's beginning. */
  left: number;
  /** Cards in the strip. */
  count: number;
}

interface CardStripProps {
  viewpoints: readonly ViewpointCard[];
  /** The card that shows; it comes into the picture. */
  current: string | null;
  /** The place of each card in the whole running order, from 1. */
  numbers: ReadonlyMap<string, number>;
  /** A card that stays there wherever one scrolls, because somebody has it in hand. */
  held?: string | null;
  card: (viewpoint: ViewpointCard, place: CardPlace) => ReactNode;
  /** What comes after the last card. */
  children?: ReactNode;
}

/** The cards in their order, of which only those in the picture are drawn: there may be hundreds. */
export function CardStrip({ viewpoints, current, numbers, held = null, card, children }: CardStripProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const isPhone = useIsPhone();
  const [focused, setFocused] = useState<string | null>(null);
  const places = useMemo(() => new Map(viewpoints.map(({ id }, i) => [id, i])), [viewpoints]);
  const kept = [held, focused].flatMap((id) => (id === null ? [] : (places.get(id) ?? [])));
  const beginsGroup = (i: number) => viewpoints[i]!.group !== '' && viewpoints[i]!.group !== viewpoints[i - 1]?.group;
  const strip = useVirtualizer({
    horizontal: true,
    count: viewpoints.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (isPhone ? CARD.phone : CARD.other) + (beginsGroup(i) ? MARK + GAP : 0),
    getItemKey: (i) => viewpoints[i]!.id,
    gap: GAP,
    overscan: AHEAD,
    rangeExtractor: (range: Range) => [...new Set([...defaultRangeExtractor(range), ...kept])].sort((a, b) => a - b),
  });
  useEffect(() => strip.measure(), [strip, isPhone, viewpoints]);
  const at = current === null ? undefined : places.get(current);
  useEffect(() => {
    if (at !== undefined) strip.scrollToIndex(at, { align: 'auto' });
  }, [strip, at]);
  const cardAt = (event: FocusEvent) => (event.target as Element).closest('[data-card]')?.getAttribute('data-card');
  return (
    <Box
      ref={scroller}
      flex="1"
      overflowX="auto"
      overflowY="hidden"
      p={{ base: '2', md: '3' }}
      pl={{ base: '0', md: '2' }}
      tabIndex={0}
      role="group"
      aria-label="Viewpoint cards"
    >
      <Flex gap="3" h="full">
        <Box
          as="ol"
          position="relative"
          flexShrink="0"
          listStyleType="none"
          aria-label="Viewpoints"
          style={{ width: strip.getTotalSize() }}
          onFocus={(event: FocusEvent) => setFocused(cardAt(event) ?? null)}
          onBlur={() => setFocused(null)}
        >
          {strip.getVirtualItems().map(({ index, start }) => {
            const viewpoint = viewpoints[index]!;
            const { id, group } = viewpoint;
            const left = beginsGroup(index) ? start + MARK + GAP : start;
            return (
              <Fragment key={id}>
                {left > start ? <GroupMark group={group} left={start} /> : null}
                {card(viewpoint, { number: numbers.get(id) ?? index + 1, left, count: viewpoints.length })}
              </Fragment>
            );
          })}
        </Box>
        {children}
      </Flex>
    </Box>
  );
}

/** Where another group begins, its name stands upright before its first card. */
function GroupMark({ group, left }: { group: string; left: number }) {
  return (
    <Flex
      as="li"
      aria-label={`Group ${group}`}
      position="absolute"
      top="0"
      bottom="0"
      align="center"
      justify="center"
      style={{ left, width: MARK }}
    >
      <Text
        fontSize="xs"
        fontWeight="bold"
        color="softInk"
        maxH="full"
        truncate
        title={group}
        css={{ writingMode: 'vertical-rl', transform: 'rotate(180deg)' }}
      >
        {group}
      </Text>
    </Flex>
  );
}
