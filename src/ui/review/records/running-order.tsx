'use client';
import { Box, Button, Flex, Input, Text } from '@chakra-ui/react';
import { Plus } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { Card, FieldError, PrimaryButton, QuietButton } from '../../controls';
import { useCheckedForm } from '../../forms/use-checked-form';
import { useReview, useSession } from '../session-context';
import { CardList, ViewpointCard } from './viewpoint-card';

/** Cards that can be moved, renamed and deleted; guests do not load that. */
const ArrangedCards = lazy(() => import('./arranged-cards').then((module) => ({ default: module.ArrangedCards })));

/** The spine of the Review: viewpoint cards in order, to arrange, to play, to come back to. */
export function RunningOrder() {
  const session = useSession();
  const viewpoints = useReview((state) => state.viewpoints);
  const current = useReview((state) => state.viewpoint);
  const deleted = useReview((state) => state.deleted);
  const drawer = useReview((state) => state.drawer);
  const at = viewpoints.findIndex((viewpoint) => viewpoint.id === current);
  const { arrange } = session.start.rights;
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
        {arrange ? (
          <Suspense>
            <ArrangedCards />
          </Suspense>
        ) : (
          <CardList>
            {viewpoints.map((viewpoint, i) => (
              <ViewpointCard
                key={viewpoint.id}
                viewpoint={viewpoint}
                number={i + 1}
                current={viewpoint.id === current}
              />
            ))}
          </CardList>
        )}
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

function SaveCard() {
  const session = useSession();
  const [open, setOpen] = useState(false);
  const { form, formProps, field, isSubmitting } = useCheckedForm<{ name: string }>(
    async () => (await import('@/core/forms/name-schema')).nameSchema,
    {},
    async ({ name }) => {
      if (!(await session.records.saveViewpoint(name.trim()))) return;
      form.reset();
      setOpen(false);
    },
  );
  const { error, ...name } = field('name');
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
        <form {...formProps}>
          <Input
            autoFocus
            aria-label="Name of the viewpoint"
            aria-invalid={error ? true : undefined}
            placeholder="Name"
            size="sm"
            maxLength={120}
            bg="wool"
            mb="1"
            {...name}
            onKeyDown={(event) => event.key === 'Escape' && setOpen(false)}
          />
          <FieldError error={error} />
          <PrimaryButton type="submit" size="sm" minH="36px" w="full" mt="1" loading={isSubmitting}>
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
