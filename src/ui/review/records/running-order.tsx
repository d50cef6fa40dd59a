'use client';
import { Box, Flex, Input, Text } from '@chakra-ui/react';
import { lazy, Suspense, useMemo, useState } from 'react';
import type { ViewpointCard as Viewpoint } from '@/core/project/viewpoint-card';
import { Card } from '../../controls';
import { useReview, useSession } from '../session-context';
import { SmallSelect } from '../../small-select';
import { OrderHead } from './order-head';
import { SaveCard } from './save-card';
import { UndoNote } from './undo-note';
import { CardList, GroupMark, ViewpointCard } from './viewpoint-card';

/** Cards that can be moved, renamed and deleted; guests do not load that. */
const ArrangedCards = lazy(() => import('./arranged-cards').then((module) => ({ default: module.ArrangedCards })));

/** The spine of the Review: viewpoint cards in order, to arrange, to play, to come back to. */
export function RunningOrder() {
  const session = useSession();
  const viewpoints = useReview((state) => state.viewpoints);
  const current = useReview((state) => state.viewpoint);
  const drawer = useReview((state) => state.drawer);
  const [isFinding, setFinding] = useState(false);
  const [search, setSearch] = useState('');
  const [group, setGroup] = useState<string | null>(null);
  const groups = useMemo(() => [...new Set(viewpoints.map((one) => one.group))], [viewpoints]);
  const shown = useMemo(() => {
    const words = search.trim().toLocaleLowerCase();
    return viewpoints.filter(
      (one) =>
        (group === null || one.group === group) &&
        (!words || `${one.name} ${one.question} ${one.group}`.toLocaleLowerCase().includes(words)),
    );
  }, [viewpoints, search, group]);
  const { arrange } = session.start.rights;
  if (viewpoints.length === 0 && !arrange) return null;
  const find = () => {
    setFinding(!isFinding);
    setSearch('');
    setGroup(null);
  };
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
      <OrderHead isFinding={isFinding} onFind={find} />
      {isFinding ? (
        <Flex direction="column" gap="2" py="3" w="170px" flexShrink="0" justify="center">
          <Input
            autoFocus
            size="sm"
            minH="40px"
            borderColor="seam"
            aria-label="Words in viewpoints"
            placeholder="Name, question, group"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            onKeyDown={(event) => event.key === 'Escape' && find()}
          />
          {groups.length > 1 ? (
            <Flex>
              <SmallSelect
                label="Group"
                value={group ?? '*'}
                options={[['*', 'All groups'], ...groups.map((one) => [one, one || 'In no group'] as const)]}
                onChange={(one) => setGroup(one === '*' ? null : one)}
              />
            </Flex>
          ) : null}
        </Flex>
      ) : null}
      <Box
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
          {shown.length === 0 && viewpoints.length > 0 ? (
            <Text color="softInk" alignSelf="center">
              No viewpoint is called so.
            </Text>
          ) : arrange ? (
            <Suspense fallback={<PlainCards viewpoints={shown} current={current} />}>
              <ArrangedCards viewpoints={shown} />
            </Suspense>
          ) : (
            <PlainCards viewpoints={shown} current={current} />
          )}
          {arrange && !isFinding ? <SaveCard /> : null}
        </Flex>
      </Box>
      <UndoNote />
    </Card>
  );
}

function PlainCards({ viewpoints, current }: { viewpoints: Viewpoint[]; current: string | null }) {
  const all = useReview((state) => state.viewpoints);
  return (
    <CardList>
      {viewpoints.map((viewpoint, i) => (
        <GroupMark key={viewpoint.id} group={viewpoint.group} before={viewpoints[i - 1]?.group}>
          <ViewpointCard viewpoint={viewpoint} number={all.indexOf(viewpoint) + 1} current={viewpoint.id === current} />
        </GroupMark>
      ))}
    </CardList>
  );
}
