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
import { GripVertical, MoreHorizontal, Pencil, Trash2 } from 'lucide-react';
import { lazy, memo, Suspense, useState, type FormEvent } from 'react';
import type { ViewpointCard as Viewpoint } from '@/core/project/viewpoint-card';
import { IconButton, TOUCHED } from '../../controls';
import { LateMenu } from '../../late-menu';
import { useReview, useSession } from '../session-context';
import { CardStrip, type CardPlace } from './card-strip';
import { SaveCard } from './save-card';
import { ViewpointCard } from './viewpoint-card';

const Details = lazy(() => import('./viewpoint-details').then((module) => ({ default: module.ViewpointDetails })));

export interface StripProps {
  /** The cards that show. */
  viewpoints: Viewpoint[];
  /** The place of each card in the whole running order, from 1. */
  numbers: ReadonlyMap<string, number>;
}

/** The cards for those who may arrange them: by mouse, touch or keyboard, within groups and between them. */
export function ArrangedCards({ viewpoints, numbers, canSave }: StripProps & { canSave: boolean }) {
  const session = useSession();
  const all = useReview((state) => state.viewpoints);
  const current = useReview((state) => state.viewpoint);
  const [detailed, setDetailed] = useState<string | null>(null);
  const [held, setHeld] = useState<string | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    setHeld(null);
    if (!over || over.id === active.id) return;
    const index = all.findIndex((viewpoint) => viewpoint.id === over.id);
    const card = all.find((viewpoint) => viewpoint.id === active.id);
    if (index < 0 || !card) return;
    const { group } = all[index]!;
    void session.records.changeViewpoint(card.id, { index, ...(group !== card.group && { group }) });
  };
  const shown = detailed === null ? undefined : all.find(({ id }) => id === detailed);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragStart={({ active }) => setHeld(String(active.id))}
      onDragCancel={() => setHeld(null)}
      onDragEnd={drop}
      id="running-order"
    >
      <SortableContext items={viewpoints} strategy={horizontalListSortingStrategy}>
        <CardStrip
          viewpoints={viewpoints}
          current={current}
          numbers={numbers}
          held={held}
          card={(viewpoint, { number, left, count }) => (
            <ArrangedCard
              viewpoint={viewpoint}
              number={number}
              left={left}
              count={count}
              current={viewpoint.id === current}
              onDetails={setDetailed}
            />
          )}
        >
          {canSave ? <SaveCard /> : null}
        </CardStrip>
      </SortableContext>
      {shown ? (
        <Suspense>
          <Details key={shown.id} viewpoint={shown} onClose={() => setDetailed(null)} />
        </Suspense>
      ) : null}
    </DndContext>
  );
}

interface ArrangedCardProps extends CardPlace {
  viewpoint: Viewpoint;
  current: boolean;
  onDetails: (id: string) => void;
}

const ArrangedCard = memo(function ArrangedCard({ viewpoint, current, onDetails, ...place }: ArrangedCardProps) {
  const session = useSession();
  const { attributes, listeners, node, setNodeRef, transform, transition, isDragging } = useSortable({
    id: viewpoint.id,
  });
  // On a board everything is drawn larger, but pointers tell pixels of the screen.
  const zoom = node.current?.currentCSSZoom ?? 1;
  const moved = transform && { ...transform, x: transform.x / zoom, y: transform.y / zoom };
  const [renaming, setRenaming] = useState(false);
  const rename = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const name = String(new FormData(event.currentTarget).get('name')).trim();
    setRenaming(false);
    if (name && name !== viewpoint.name) void session.records.changeViewpoint(viewpoint.id, { name });
  };
  const { id, name, isShared } = viewpoint;
  const remove = () => void session.records.changeViewpoint(id, { deleted: true });
  return (
    <ViewpointCard
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(moved), transition, zIndex: isDragging ? 1 : undefined }}
      viewpoint={viewpoint}
      place={place}
      current={current}
    >
      {renaming ? (
        <Box position="absolute" left="4px" right="4px" bottom="2px">
          <form onSubmit={rename}>
            <Input
              name="name"
              size="sm"
              autoFocus
              defaultValue={name}
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
        top={{ base: '0', md: '4px' }}
        right={{ base: '0', md: '4px' }}
        bg={{ base: 'felt', md: 'card' }}
        borderRadius="pill"
      >
        <IconButton label={`Move ${name}`} {...SMALL} {...HANDLE} {...attributes} {...listeners}>
          <GripVertical size={14} aria-hidden />
        </IconButton>
        <IconButton label={`Rename ${name}`} {...SMALL} {...BY_MOUSE} onClick={() => setRenaming(true)}>
          <Pencil size={14} aria-hidden />
        </IconButton>
        <IconButton label={`Delete ${name}`} {...SMALL} {...BY_MOUSE} onClick={remove}>
          <Trash2 size={14} aria-hidden />
        </IconButton>
        <LateMenu
          items={[
            { value: 'update', label: 'Show what is seen now' },
            { value: 'duplicate', label: 'Duplicate' },
            { value: 'details', label: 'Name, question, time, group, parts …' },
            { value: 'share', label: isShared ? 'Keep for me only' : 'Share with all' },
            { value: 'link', label: 'Copy a link to it' },
            { value: 'delete', label: 'Delete' },
          ]}
          onSelect={(act) => {
            const { records } = session;
            const acts: Record<string, () => unknown> = {
              update: () => records.updateViewpoint(id),
              duplicate: () => records.duplicateViewpoint(id),
              details: () => onDetails(id),
              share: () => records.changeViewpoint(id, { isShared: !isShared }),
              link: () => session.act(() => navigator.clipboard.writeText(session.addressOf({ viewpoint: id }))),
              delete: remove,
            };
            void acts[act]?.();
          }}
        >
          <IconButton label={`Acts on ${name}`} {...SMALL}>
            <MoreHorizontal size={15} aria-hidden />
          </IconButton>
        </LateMenu>
      </Flex>
    </ViewpointCard>
  );
});

const SMALL = {
  minW: '28px',
  w: '28px',
  h: '28px',
  css: { [TOUCHED]: { minW: '44px', w: '44px', h: '44px' } },
};
/** A phone's cards have room for the menu alone. */
const NOT_ON_PHONE = { display: { base: 'none', md: 'flex' } };
/** Fingers find these acts in the menu: four buttons of their size are wider than a card. */
const BY_MOUSE = { ...NOT_ON_PHONE, css: { [TOUCHED]: { display: 'none' } } };
/** A finger on it moves the card, not the strip. */
const HANDLE = { ...NOT_ON_PHONE, css: { ...SMALL.css, touchAction: 'none' } };
