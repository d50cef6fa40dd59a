'use client';
import { Box, Flex, Input } from '@chakra-ui/react';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  horizontalListSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical, Pencil, Trash2 } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import type { ViewpointCard as Viewpoint } from '@/core/project/viewpoint-card';
import { IconButton } from '../../controls';
import { useReview, useSession } from '../session-context';
import { CardList, ViewpointCard } from './viewpoint-card';

/** The cards for those who may arrange them: by mouse, touch or keyboard. */
export function ArrangedCards() {
  const session = useSession();
  const viewpoints = useReview((state) => state.viewpoints);
  const current = useReview((state) => state.viewpoint);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || over.id === active.id) return;
    void session.records.changeViewpoint(String(active.id), {
      index: viewpoints.findIndex((viewpoint) => viewpoint.id === over.id),
    });
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop} id="running-order">
      <SortableContext items={viewpoints} strategy={horizontalListSortingStrategy}>
        <CardList>
          {viewpoints.map((viewpoint, i) => (
            <ArrangedCard key={viewpoint.id} viewpoint={viewpoint} number={i + 1} current={viewpoint.id === current} />
          ))}
        </CardList>
      </SortableContext>
    </DndContext>
  );
}

function ArrangedCard({ viewpoint, number, current }: { viewpoint: Viewpoint; number: number; current: boolean }) {
  const session = useSession();
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: viewpoint.id });
  const [renaming, setRenaming] = useState(false);
  const rename = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const name = String(new FormData(event.currentTarget).get('name')).trim();
    setRenaming(false);
    if (name && name !== viewpoint.name) void session.records.changeViewpoint(viewpoint.id, { name });
  };
  const { name } = viewpoint;
  return (
    <ViewpointCard
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      viewpoint={viewpoint}
      number={number}
      current={current}
    >
      {renaming ? (
        <Box position="absolute" left="4px" right="4px" bottom="2px">
          <form onSubmit={rename}>
            <Input
              name="name"
              size="sm"
              autoFocus
              defaultValue={viewpoint.name}
              maxLength={120}
              aria-label="New name"
              bg="card"
              onBlur={() => setRenaming(false)}
              onKeyDown={(event) => event.key === 'Escape' && setRenaming(false)}
            />
          </form>
        </Box>
      ) : null}
      <Flex
        className="tools"
        position="absolute"
        top="4px"
        right="4px"
        bg="card"
        borderRadius="pill"
        display={{ base: 'none', md: 'flex' }}
      >
        <IconButton label={`Move ${name}`} {...SMALL} {...attributes} {...listeners}>
          <GripVertical size={14} aria-hidden />
        </IconButton>
        <IconButton label={`Rename ${name}`} {...SMALL} onClick={() => setRenaming(true)}>
          <Pencil size={14} aria-hidden />
        </IconButton>
        <IconButton
          label={`Delete ${name}`}
          {...SMALL}
          onClick={() => void session.records.changeViewpoint(viewpoint.id, { deleted: true })}
        >
          <Trash2 size={14} aria-hidden />
        </IconButton>
      </Flex>
    </ViewpointCard>
  );
}

const SMALL = { minW: '28px', w: '28px', h: '28px' };
