'use client';
import { Box, Heading } from '@chakra-ui/react';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Comment } from '@/core/project/comment';
import { CommentRow, type RowProps } from './comment-row';

/** Pixels of a line that is not open, and of a heading. */
const LINE = 70;
const HEADING = 52;

interface CommentListProps extends Omit<RowProps, 'comment' | 'replies' | 'onChange' | 'isChosen' | 'onChoose'> {
  groups: readonly { heading: string; comments: readonly Comment[] }[];
  repliesOf: (id: string) => readonly Comment[];
  opened: string | null;
  onOpen: (id: string | null) => void;
  chosen: ReadonlySet<string>;
  onChoose: (id: string, isChosen: boolean) => void;
  onChange: (id: string, change: Parameters<RowProps['onChange']>[0]) => void;
}

/** Comments line by line, under headings; only those in the picture are drawn, because there may be thousands. */
export function CommentList({
  groups,
  repliesOf,
  opened,
  onOpen,
  onChange,
  chosen,
  onChoose,
  ...row
}: CommentListProps) {
  const list = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  useEffect(() => setTop(list.current?.offsetTop ?? 0), []);
  const lines = useMemo(
    () => groups.flatMap(({ heading, comments }): (string | Comment)[] => [...(heading ? [heading] : []), ...comments]),
    [groups],
  );
  const window = useWindowVirtualizer({
    count: lines.length,
    estimateSize: (i) => (typeof lines[i] === 'string' ? HEADING : LINE),
    getItemKey: (i) => {
      const line = lines[i]!;
      return typeof line === 'string' ? `heading ${line}` : line.id;
    },
    overscan: 12,
    scrollMargin: top,
  });
  const at = lines.findIndex((line) => typeof line !== 'string' && line.id === opened);
  useEffect(() => {
    if (at >= 0) window.scrollToIndex(at, { align: 'auto' });
  }, [window, at]);
  return (
    <Box ref={list} role="list" aria-label="Comments" position="relative" style={{ height: window.getTotalSize() }}>
      {window.getVirtualItems().map(({ index, key, start }) => {
        const line = lines[index]!;
        return (
          <Box
            key={key}
            ref={window.measureElement}
            data-index={index}
            role="listitem"
            position="absolute"
            top="0"
            left="0"
            w="full"
            style={{ transform: `translateY(${start - top}px)` }}
          >
            {typeof line === 'string' ? (
              <Heading as="h2" fontSize="lg" pt="4" pb="2">
                {line}
              </Heading>
            ) : (
              <CommentRow
                {...row}
                comment={line}
                replies={repliesOf(line.id)}
                isOpen={line.id === opened}
                isChosen={chosen.has(line.id)}
                onChoose={(isChosen) => onChoose(line.id, isChosen)}
                onToggle={() => onOpen(line.id === opened ? null : line.id)}
                onChange={(change) => onChange(line.id, change)}
              />
            )}
          </Box>
        );
      })}
    </Box>
  );
}
