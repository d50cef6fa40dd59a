'use client';
import { Box, Grid, Heading, Stack, Text } from '@chakra-ui/react';
import {
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type Announcements,
  type KeyboardCoordinateGetter,
} from '@dnd-kit/core';
import { COMMENT_STATUSES, STATUS_WORDS, type Comment, type CommentStatus } from '@/core/project/comment';
import { CommentChip } from './comment-row';

/** Cards of a column that show at once. */
const MOST = 100;

/** Enter opens a card; the space bar takes it up and puts it down. */
const KEYS = { start: ['Space'], cancel: ['Escape'], end: ['Space', 'Enter'] };
const INSTRUCTIONS = {
  draggable: 'The space bar takes a card up, left and right move it, the space bar puts it down.',
};

/** From column to column. */
const toNextColumn: KeyboardCoordinateGetter = (event, { context, currentCoordinates }) => {
  const by = event.code === 'ArrowRight' ? 1 : event.code === 'ArrowLeft' ? -1 : 0;
  if (by === 0) return undefined;
  event.preventDefault();
  const columns = [...context.droppableRects.values()].sort((a, b) => a.left - b.left);
  const here = columns.findLastIndex(({ left }) => left <= currentCoordinates.x + 1);
  const next = columns[here + by];
  return next && { x: next.left + EDGE, y: next.top + EDGE * 4 };
};
/** Of a column, in pixels. */
const EDGE = 12;

/** What screen readers hear while a card is moved. */
function announced(comments: readonly Comment[]): Announcements {
  const number = (id: string | number) => `Comment ${comments.find((comment) => comment.id === id)?.number ?? ''}`;
  const column = (id: string | number | undefined) => (id === undefined ? 'no column' : STATUS_WORDS[id as CommentStatus]); // prettier-ignore
  return {
    onDragStart: ({ active }) => `${number(active.id)} is taken up.`,
    onDragOver: ({ active, over }) => `${number(active.id)} is over ${column(over?.id)}.`,
    onDragEnd: ({ active, over }) => `${number(active.id)} is put down in ${column(over?.id)}.`,
    onDragCancel: ({ active }) => `${number(active.id)} stays where it was.`,
  };
}

interface BoardProps {
  comments: readonly Comment[];
  today: string;
  onOpen: (id: string) => void;
  onStatus: (id: string, status: CommentStatus) => void;
}

/** Comments by how far they are done; dragged from one column to the next. */
export function CommentBoard({ comments, today, onOpen, onStatus }: BoardProps) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: toNextColumn, keyboardCodes: KEYS }),
  );
  return (
    <DndContext
      id="comment-board"
      sensors={sensors}
      accessibility={{ announcements: announced(comments), screenReaderInstructions: INSTRUCTIONS }}
      onDragEnd={({ active, over }) => {
        const comment = comments.find(({ id }) => id === active.id);
        if (comment && over && over.id !== comment.status) onStatus(comment.id, over.id as CommentStatus);
      }}
    >
      <Grid templateColumns={`repeat(${COMMENT_STATUSES.length}, minmax(180px, 1fr))`} gap="3" overflowX="auto">
        {COMMENT_STATUSES.map((status) => (
          <Column
            key={status}
            status={status}
            comments={comments.filter((comment) => comment.status === status)}
            today={today}
            onOpen={onOpen}
          />
        ))}
      </Grid>
    </DndContext>
  );
}

function Column({ status, comments, today, onOpen }: Omit<BoardProps, 'onStatus'> & { status: CommentStatus }) {
  const { setNodeRef, isOver } = useDroppable({ id: status });
  return (
    <Box
      ref={setNodeRef}
      as="section"
      aria-label={STATUS_WORDS[status]}
      bg={isOver ? 'seam' : 'felt'}
      borderRadius="14px"
      p="3"
      minH="240px"
    >
      <Heading as="h2" fontSize="md" mb="2">
        {STATUS_WORDS[status]}{' '}
        <Text as="span" color="softInk" fontWeight="normal">
          {comments.length}
        </Text>
      </Heading>
      <Stack gap="2">
        {comments.slice(0, MOST).map((comment) => (
          <Card key={comment.id} comment={comment} today={today} onOpen={() => onOpen(comment.id)} />
        ))}
        {comments.length > MOST ? (
          <Text fontSize="sm" color="softInk">
            And {comments.length - MOST} more. Narrow the list to see them.
          </Text>
        ) : null}
      </Stack>
    </Box>
  );
}

function Card({ comment, today, onOpen }: { comment: Comment; today: string; onOpen: () => void }) {
  const { listeners, setNodeRef, transform, isDragging } = useDraggable({ id: comment.id });
  return (
    <Box
      ref={setNodeRef}
      {...listeners}
      position="relative"
      zIndex={isDragging ? 2 : undefined}
      opacity={isDragging ? 0.85 : 1}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
      css={{ touchAction: 'manipulation' }}
    >
      <CommentChip comment={comment} today={today} onOpen={onOpen} />
    </Box>
  );
}
