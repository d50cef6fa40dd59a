'use client';
import { Box, Flex, Heading, Link, Text } from '@chakra-ui/react';
import { format, isToday, isYesterday } from 'date-fns';
import NextLink from 'next/link';
import { Fragment, useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { ACTIVITY_KINDS, ACTIVITY_WORDS, addressOf, type Activity, type ActivityKind } from '@/core/project/activity';
import { api, messageOf } from '../api';
import { QuietButton, Trouble } from '../controls';
import { SmallSelect } from '../small-select';

const ALL = '*';
/** A page that is not as long as this is the last one. */
const PAGE = 60;

const KINDS: Record<ActivityKind, string> = {
  published: 'Published',
  withdrawn: 'Withdrawn',
  said: 'Said',
  answered: 'Answered',
  changed: 'Changed',
  decided: 'Decided',
  confirmed: 'Confirmed',
  'meeting-started': 'Meetings begun',
  'meeting-ended': 'Meetings ended',
  'approval-asked': 'Put up for approval',
  'approval-answered': 'Answered on approval',
};

interface FeedProps {
  /** One project; null for all of this person's. */
  projectId: string | null;
  initial: Activity[];
  people: readonly string[];
}

/** Who did what, newest first, day by day. */
export function Feed({ projectId, initial, people }: FeedProps) {
  const [activities, setActivities] = useState(initial);
  const [by, setBy] = useState(ALL);
  const [kind, setKind] = useState(ALL);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [hasMore, setHasMore] = useState(initial.length >= PAGE);
  const isFirst = useRef(true);
  // Days are those of the reader, whom only the browser knows.
  const isInBrowser = useSyncExternalStore(
    () => () => undefined,
    () => true,
    () => false,
  );
  const query = (before?: string) =>
    `/api/feed?${new URLSearchParams({
      ...(projectId && { project: projectId }),
      ...(by !== ALL && { by }),
      ...(kind !== ALL && { kind }),
      ...(before && { before }),
    })}`;
  const fetchMore = (before?: string) =>
    api.get<Activity[]>(query(before)).then(
      (more) => {
        setActivities((known) => (before ? [...known, ...more] : more));
        setHasMore(more.length >= PAGE);
        setTrouble(null);
      },
      (error: unknown) => setTrouble(messageOf(error)),
    );
  useEffect(() => {
    if (isFirst.current) isFirst.current = false;
    else void fetchMore();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- fetched anew where something else is asked for
  }, [by, kind]);
  const days = isInBrowser ? groupByDay(activities) : [];
  return (
    <Box>
      <Flex role="search" aria-label="What was done" gap="2" mb="4" maxW="420px">
        <SmallSelect
          label="Who"
          value={by}
          options={[[ALL, 'Everybody'], ...people.map((name) => [name, name] as const)]}
          onChange={setBy}
        />
        <SmallSelect
          label="What"
          value={kind}
          options={[[ALL, 'Everything'], ...ACTIVITY_KINDS.map((one) => [one, KINDS[one]] as const)]}
          onChange={setKind}
        />
      </Flex>
      <Trouble text={trouble} />
      {activities.length === 0 ? <Text color="softInk">Nothing was done.</Text> : null}
      {days.map(({ day, own }) => (
        <Fragment key={day}>
          <Heading as="h2" fontSize="lg" mt="5" mb="2">
            {day}
          </Heading>
          <Box as="ul" listStyleType="none">
            {own.map((activity) => (
              <Line key={activity.id} activity={activity} hasProject={projectId === null} />
            ))}
          </Box>
        </Fragment>
      ))}
      {hasMore && isInBrowser ? (
        <QuietButton mt="4" onClick={() => void fetchMore(activities.at(-1)?.id)}>
          Earlier
        </QuietButton>
      ) : null}
    </Box>
  );
}

function Line({ activity, hasProject }: { activity: Activity; hasProject: boolean }) {
  const { at, by, kind, text, project } = activity;
  return (
    <Flex as="li" gap="3" py="2" borderBottomWidth="1px" borderColor="seam" align="baseline">
      <Text fontSize="sm" color="softInk" fontVariantNumeric="tabular-nums" flexShrink="0">
        <time dateTime={at}>{format(at, 'HH:mm')}</time>
      </Text>
      <Box flex="1" minW="0">
        <Link asChild color="ink">
          <NextLink href={addressOf(activity)}>
            <Text as="span" lineClamp={2} wordBreak="break-word">
              <b>{by.name}</b> {ACTIVITY_WORDS[kind]} <bdi>{text}</bdi>
            </Text>
          </NextLink>
        </Link>
        {hasProject ? (
          <Text fontSize="sm" color="softInk">
            {project}
          </Text>
        ) : null}
      </Box>
    </Flex>
  );
}

function groupByDay(activities: readonly Activity[]): { day: string; own: Activity[] }[] {
  const days: { day: string; own: Activity[] }[] = [];
  for (const activity of activities) {
    const day = isToday(activity.at) ? 'Today' : isYesterday(activity.at) ? 'Yesterday' : format(activity.at, 'EEEE, d MMMM yyyy'); // prettier-ignore
    const last = days.at(-1);
    if (last?.day === day) last.own.push(activity);
    else days.push({ day, own: [activity] });
  }
  return days;
}
