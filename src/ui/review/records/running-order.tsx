'use client';
import { Box, Button, Flex, Image, Input, Text } from '@chakra-ui/react';
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
import { GripVertical, Pencil, Plus, Trash2 } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { Card, IconButton, PrimaryButton, QuietButton } from '../../controls';
import { useReview, useSession } from '../session-context';
import type { ViewpointCard } from '@/core/project/viewpoint-card';

/** The spine of the Review: viewpoint cards in order, to arrange, to play, to come back to. */
export function RunningOrder() {
  const session = useSession();
  const viewpoints = useReview((state) => state.viewpoints);
  const current = useReview((state) => state.viewpoint);
  const deleted = useReview((state) => state.deleted);
  const drawer = useReview((state) => state.drawer);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const at = viewpoints.findIndex((viewpoint) => viewpoint.id === current);
  const { arrange } = session.start.rights;
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || over.id === active.id) return;
    void session.records.changeViewpoint(String(active.id), {
      index: viewpoints.findIndex((viewpoint) => viewpoint.id === over.id),
    });
  };
  if (viewpoints.length === 0 && !arrange) return null;
  return (
    <Card
      as="section"
      aria-label="Running order"
      data-covers
      position="absolute"
      zIndex="9"
      left={{ base: '8px', md: '20px' }}
      right={{ base: '8px', md: '20px' }}
      bottom={{ base: '92px', md: '16px' }}
      h={{ base: '64px', md: '148px' }}
      display={{ base: drawer ? 'none' : 'flex', md: 'flex' }}
      overflow="hidden"
    >
      <Flex
        direction={{ base: 'row', md: 'column' }}
        justify="space-between"
        p={{ base: '2', md: '4' }}
        w={{ md: '190px' }}
        flexShrink="0"
        gap="2"
        align={{ base: 'center', md: 'stretch' }}
      >
        <Box display={{ base: 'none', md: 'block' }}>
          <Text fontSize="sm" color="softInk">
            {viewpoints.length === 0
              ? 'Running order'
              : at < 0
                ? `${viewpoints.length} viewpoints`
                : `${at + 1} of ${viewpoints.length}`}
          </Text>
          <Text fontWeight="bold" lineHeight="1.25" lineClamp={2}>
            {viewpoints[at]?.name ?? (viewpoints.length === 0 ? 'Save the first view' : 'Free view')}
          </Text>
        </Box>
        <Flex gap="2">
          <QuietButton disabled={viewpoints.length === 0 || at === 0} onClick={() => session.view.stepViewpoint(-1)}>
            Back
          </QuietButton>
          <QuietButton
            bg="ink"
            color="wool"
            _hover={{ bg: 'softInk' }}
            disabled={viewpoints.length === 0 || at === viewpoints.length - 1}
            onClick={() => session.view.stepViewpoint(1)}
          >
            Next
          </QuietButton>
        </Flex>
      </Flex>
      <Flex flex="1" overflowX="auto" gap="3" py={{ base: '2', md: '3' }} pr="3" align="stretch">
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop} id="running-order">
          <SortableContext items={viewpoints} strategy={horizontalListSortingStrategy}>
            <Flex as="ol" listStyleType="none" gap="3" aria-label="Viewpoints">
              {viewpoints.map((viewpoint, i) => (
                <ViewpointCard
                  key={viewpoint.id}
                  viewpoint={viewpoint}
                  number={i + 1}
                  current={viewpoint.id === current}
                />
              ))}
            </Flex>
          </SortableContext>
        </DndContext>
        {arrange ? <SaveCard /> : null}
      </Flex>
      {deleted ? (
        <Flex
          position="absolute"
          right="12px"
          bottom="12px"
          bg="ink"
          color="wool"
          borderRadius="pill"
          pl="4"
          align="center"
          gap="1"
          role="status"
        >
          <Text fontSize="sm">“{deleted.name}” was deleted.</Text>
          <Button
            variant="ghost"
            color="wool"
            fontWeight="bold"
            _hover={{ bg: 'softInk' }}
            onClick={() => void session.records.changeViewpoint(deleted.id, { deleted: false })}
          >
            Undo
          </Button>
          <Button
            variant="ghost"
            color="wool"
            aria-label="Close"
            _hover={{ bg: 'softInk' }}
            onClick={() => session.store.setState({ deleted: null })}
          >
            ×
          </Button>
        </Flex>
      ) : null}
    </Card>
  );
}

function ViewpointCard({ viewpoint, number, current }: { viewpoint: ViewpointCard; number: number; current: boolean }) {
  const session = useSession();
  const { arrange } = session.start.rights;
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({
    id: viewpoint.id,
    disabled: !arrange,
  });
  const [renaming, setRenaming] = useState(false);
  const rename = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const name = String(new FormData(event.currentTarget).get('name')).trim();
    setRenaming(false);
    if (name && name !== viewpoint.name) void session.records.changeViewpoint(viewpoint.id, { name });
  };
  return (
    <Box
      as="li"
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      w={{ base: '120px', md: '160px' }}
      flexShrink="0"
      position="relative"
      borderRadius="12px"
      overflow="hidden"
      borderWidth="2px"
      borderColor={current ? 'madder' : 'seam'}
      bg="felt"
      className="viewpoint-card"
      css={{ '& .tools': { opacity: 0 }, '&:hover .tools, &:focus-within .tools': { opacity: 1 } }}
    >
      <Button
        variant="plain"
        onClick={() => session.view.openViewpoint(viewpoint)}
        aria-label={`Viewpoint ${number}: ${viewpoint.name}`}
        aria-current={current ? 'step' : undefined}
        w="full"
        h="full"
        p="0"
        display="flex"
        flexDirection="column"
        alignItems="stretch"
        gap="0"
        textAlign="left"
        borderRadius="0"
      >
        {/* It gives way where a scroll bar needs room. */}
        <Box display={{ base: 'none', md: 'block' }} flex="1" minH="0" bg="seam">
          {viewpoint.hasPicture ? (
            <Image
              src={`/api/projects/${session.start.project.id}/viewpoints/${viewpoint.id}/picture`}
              alt=""
              w="full"
              h="full"
              objectFit="cover"
              draggable={false}
            />
          ) : null}
        </Box>
        <Text px="2.5" py={{ base: '2.5', md: '1' }} fontSize="sm" fontWeight="bold" color="ink" truncate>
          {viewpoint.name}
        </Text>
      </Button>
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
      {arrange ? (
        <Flex
          className="tools"
          position="absolute"
          top="4px"
          right="4px"
          bg="card"
          borderRadius="pill"
          display={{ base: 'none', md: 'flex' }}
        >
          <IconButton label={`Move ${viewpoint.name}`} minW="28px" w="28px" h="28px" {...attributes} {...listeners}>
            <GripVertical size={14} aria-hidden />
          </IconButton>
          <IconButton
            label={`Rename ${viewpoint.name}`}
            minW="28px"
            w="28px"
            h="28px"
            onClick={() => setRenaming(true)}
          >
            <Pencil size={14} aria-hidden />
          </IconButton>
          <IconButton
            label={`Delete ${viewpoint.name}`}
            minW="28px"
            w="28px"
            h="28px"
            onClick={() => void session.records.changeViewpoint(viewpoint.id, { deleted: true })}
          >
            <Trash2 size={14} aria-hidden />
          </IconButton>
        </Flex>
      ) : null}
    </Box>
  );
}

function SaveCard() {
  const session = useSession();
  const [open, setOpen] = useState(false);
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const name = String(new FormData(event.currentTarget).get('name')).trim();
    setOpen(false);
    if (name) void session.records.saveViewpoint(name);
  };
  return (
    <Flex
      w={{ base: '130px', md: '160px' }}
      flexShrink="0"
      borderWidth="2px"
      borderStyle="dashed"
      borderColor="seam"
      borderRadius="12px"
      align="center"
      justify="center"
      p="2"
    >
      {open ? (
        <form onSubmit={submit}>
          <Input
            name="name"
            autoFocus
            aria-label="Name of the viewpoint"
            placeholder="Name"
            size="sm"
            maxLength={120}
            bg="wool"
            mb="2"
            required
          />
          <PrimaryButton type="submit" size="sm" minH="36px" w="full">
            Save
          </PrimaryButton>
        </form>
      ) : (
        <Button
          variant="ghost"
          h="full"
          w="full"
          flexDirection={{ base: 'row', md: 'column' }}
          color="softInk"
          onClick={() => setOpen(true)}
        >
          <Plus size={20} aria-hidden />
          Save this view
        </Button>
      )}
    </Flex>
  );
}
