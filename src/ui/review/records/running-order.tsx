'use client';
import { Flex, Input, Text } from '@chakra-ui/react';
import { lazy, Suspense, useMemo, useState } from 'react';
import { Card } from '../../controls';
import { useReview, useSession } from '../session-context';
import { SmallSelect } from '../../small-select';
import type { StripProps } from './arranged-cards';
import { CardStrip } from './card-strip';
import { OrderHead } from './order-head';
import { UndoNote } from './undo-note';
import { ViewpointCard } from './viewpoint-card';

/** Cards that can be moved, renamed and deleted; guests do not load that. */
const ArrangedCards = lazy(() => import('./arranged-cards').then((module) => ({ default: module.ArrangedCards })));

/** The spine of the Review: viewpoint cards in order, to arrange, to play, to come back to. */
export function RunningOrder() {
  const session = useSession();
  const viewpoints = useReview((state) => state.viewpoints);
  const drawer = useReview((state) => state.drawer);
  const [isFinding, setFinding] = useState(false);
  const [search, setSearch] = useState('');
  const [group, setGroup] = useState<string | null>(null);
  const numbers = useMemo(() => new Map(viewpoints.map(({ id }, i) => [id, i + 1])), [viewpoints]);
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
      {shown.length === 0 && viewpoints.length > 0 ? (
        <Text color="softInk" alignSelf="center" px="3">
          No viewpoint is called so.
        </Text>
      ) : arrange ? (
        <Suspense fallback={<PlainCards viewpoints={shown} numbers={numbers} />}>
          <ArrangedCards viewpoints={shown} numbers={numbers} canSave={!isFinding} />
        </Suspense>
      ) : (
        <PlainCards viewpoints={shown} numbers={numbers} />
      )}
      <UndoNote />
    </Card>
  );
}

function PlainCards({ viewpoints, numbers }: StripProps) {
  const current = useReview((state) => state.viewpoint);
  return (
    <CardStrip
      viewpoints={viewpoints}
      current={current}
      numbers={numbers}
      card={(viewpoint, place) => (
        <ViewpointCard viewpoint={viewpoint} place={place} current={viewpoint.id === current} />
      )}
    />
  );
}
