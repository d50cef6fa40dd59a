'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { useRouter } from 'next/navigation';
import { useCallback, useMemo, useState } from 'react';
import {
  answersById,
  COMMENT_KINDS,
  COMMENT_STATUSES,
  isOpen,
  KIND_WORDS,
  PRIORITIES,
  PRIORITY_WORDS,
  STATUS_WORDS,
  type Comment,
  type CommentChange,
} from '@/core/project/comment';
import {
  ALL_COMMENTS,
  filterComments,
  groupComments,
  sortComments,
  type CommentFilter,
  type CommentGroup,
  type CommentSort,
} from '@/core/project/sort-comments';
import type { MeetingSummary } from '@/core/meeting/meeting-record';
import { api, messageOf } from '../api';
import { today as dayOf } from '../comments/due';
import { useAssignees } from '../comments/use-assignees';
import { Card, QuietButton, SearchField, Trouble } from '../controls';
import { LateMenu } from '../late-menu';
import { useLiveProject } from '../live-page';
import { SmallSelect } from '../small-select';
import { BringIn } from './bring-in';
import { CommentBoard } from './comment-board';
import { CommentCalendar } from './comment-calendar';
import { CommentList } from './comment-list';
import { FollowUpHead } from './follow-up-head';
import { MeetingsHeld } from './meetings-held';
import { Several } from './several';

const SHAPES = [
  ['list', 'List'],
  ['board', 'Board'],
  ['calendar', 'Calendar'],
] as const;

const SORT_WORDS: [CommentSort, string][] = [
  ['number', 'Newest first'],
  ['due', 'Due first'],
  ['priority', 'Urgent first'],
  ['status', 'Least done first'],
];
const GROUP_WORDS: [CommentGroup, string][] = [
  ['meeting', 'By meeting'],
  ['none', 'In one list'],
  ['kind', 'By kind'],
  ['status', 'By status'],
  ['assignee', 'By person'],
];
/** Comments that an address names one by one. */
const MOST_NAMED = 150;
/** Stands for all and for nobody in the choices. */
const ALL = '*';
const NOBODY = '';

/** Station Follow-up: what was said, what is to be done by whom and when, meeting by meeting with its minutes. */
export function FollowUp({
  project,
  meetings,
  initial,
  isLead,
  isMember,
  holdsMinutes,
}: {
  project: { id: string; name: string };
  meetings: MeetingSummary[];
  initial: Comment[];
  isLead: boolean;
  /** Guests have only this page of Follow-up. */
  isMember: boolean;
  /** Whether minutes wait until the lead has read them. */
  holdsMinutes: boolean;
}) {
  const [comments, setComments] = useState(initial);
  const [filter, setFilter] = useState<CommentFilter>(ALL_COMMENTS);
  const [sort, setSort] = useState<CommentSort>('number');
  const [group, setGroup] = useState<CommentGroup>('meeting');
  const [shape, setShape] = useState<(typeof SHAPES)[number][0]>('list');
  const [opened, setOpened] = useState<string | null>(null);
  const [deleted, setDeleted] = useState<Comment | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  /** On a phone the choices take too much room to stand there always. */
  const [isNarrowing, setNarrowing] = useState(false);
  const router = useRouter();
  const [today] = useState(dayOf);
  const people = useAssignees(project.id, true);
  const base = `/api/projects/${project.id}`;
  const fetchAnew = useCallback(() => api.get<Comment[]>(`${base}/comments`).then(setComments), [base]);
  const reload = useLiveProject(project.id, 'comments-changed', fetchAnew, setTrouble);
  const change = (id: string, changed: CommentChange) => {
    setTrouble(null);
    api.patch(`${base}/comments/${id}`, changed).then(
      () => {
        if (changed.deleted !== undefined) setDeleted(changed.deleted ? (comments.find((one) => one.id === id) ?? null) : null); // prettier-ignore
        reload();
      },
      (error: unknown) => setTrouble(messageOf(error)),
    );
  };
  const choose = (id: string, isChosen: boolean) => {
    const next = new Set(chosen);
    if (isChosen) next.add(id);
    else next.delete(id);
    setChosen(next);
  };
  const changeAll = (changed: CommentChange) => {
    setTrouble(null);
    api.patch(`${base}/comments`, { ids: [...chosen], change: changed }).then(
      () => {
        if (changed.deleted) setChosen(new Set());
        reload();
      },
      (error: unknown) => setTrouble(messageOf(error)),
    );
  };
  const set = (part: Partial<CommentFilter>) => setFilter({ ...filter, ...part });

  const threads = useMemo(() => comments.filter(({ replyTo }) => !replyTo), [comments]);
  const replies = useMemo(() => answersById(comments), [comments]);
  const shown = useMemo(
    () => sortComments(filterComments(comments, filter, today), sort),
    [comments, filter, sort, today],
  );
  // An address has only so much room; of more, all go along.
  const isSome = shown.length < threads.length && shown.length <= MOST_NAMED;
  const bcf = `comments.bcf${isSome ? `?ids=${shown.map(({ id }) => id).join(',')}` : ''}`;
  const groups = useMemo(() => {
    const titles = new Map(meetings.map(({ id, title }) => [id, title]));
    return groupComments(shown, group, (id) => titles.get(id) ?? 'A meeting');
  }, [shown, group, meetings]);
  const names = useMemo(() => [...new Set(threads.map(({ assignee }) => assignee?.name ?? NOBODY))].sort(), [threads]);
  const authors = useMemo(() => [...new Set(threads.map(({ author }) => author))].sort(), [threads]);
  const openInList = (id: string | null) => {
    setShape('list');
    setOpened(id);
  };
  return (
    <Box as="main" maxW="1180px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
      <FollowUpHead
        projectId={project.id}
        page="follow-up"
        isMember={isMember}
        title="What was said"
        lead={`${threads.length} ${threads.length === 1 ? 'comment' : 'comments'}, ${threads.filter(isOpen).length} open`}
      >
        <Flex role="group" aria-label="Shown as" gap="1">
          {SHAPES.map(([name, word]) => (
            <QuietButton key={name} aria-pressed={shape === name} onClick={() => setShape(name)}>
              {word}
            </QuietButton>
          ))}
        </Flex>
        <LateMenu
          items={[
            { value: 'comments.xlsx', label: 'Table for spreadsheets (XLSX)' },
            { value: 'comments.csv', label: 'Table as text (CSV)' },
            { value: bcf, label: isSome ? `${shown.length} that show, as BCF` : 'All as BCF' },
            { value: 'comments.ics', label: 'Days for calendars (ICS)' },
          ]}
          onSelect={(file) => location.assign(`${base}/${file}`)}
        >
          <QuietButton>Hand out</QuietButton>
        </LateMenu>
        <BringIn base={base} onDone={reload} />
      </FollowUpHead>
      {threads.length > 0 ? (
        <Flex role="search" aria-label="Comments" gap="2" wrap="wrap" mb="4" align="center">
          <Box flex="2 1 200px">
            <SearchField label="Words" placeholder="Words, name, number" onSearch={(words) => set({ words })} />
          </Box>
          <QuietButton
            display={{ base: 'block', md: 'none' }}
            aria-expanded={isNarrowing}
            onClick={() => setNarrowing(!isNarrowing)}
          >
            Narrow
          </QuietButton>
          <Box display={{ base: isNarrowing ? 'contents' : 'none', md: 'contents' }}>
            <Narrowing
              label="Which kind"
              value={filter.kind ?? ALL}
              options={[[ALL, 'All kinds'], ...COMMENT_KINDS.map((kind) => [kind, `${KIND_WORDS[kind]}s`] as const)]}
              onChange={(kind) => set({ kind: kind === ALL ? null : (kind as CommentFilter['kind']) })}
            />
            <Narrowing
              label="How far"
              value={filter.status ?? ALL}
              options={[
                [ALL, 'Open and closed'],
                ['not-closed', 'All but closed'],
                ...COMMENT_STATUSES.map((status) => [status, STATUS_WORDS[status]] as const),
              ]}
              onChange={(status) => set({ status: status === ALL ? null : (status as CommentFilter['status']) })}
            />
            <Narrowing
              label="Whose"
              value={filter.assignee ?? ALL}
              options={[[ALL, 'Everybody'], ...names.map((name) => [name, name || 'Nobody'] as const)]}
              onChange={(assignee) => set({ assignee: assignee === ALL ? null : assignee })}
            />
            <Narrowing
              label="When due"
              value={filter.due ?? ALL}
              options={[
                [ALL, 'Any day'],
                ['over', 'Late'],
                ['week', 'Within a week'],
                ['none', 'Without a day'],
              ]}
              onChange={(due) => set({ due: due === ALL ? null : (due as CommentFilter['due']) })}
            />
            <Narrowing
              label="How urgent"
              value={filter.priority ?? ALL}
              options={[
                [ALL, 'Any priority'],
                ...PRIORITIES.map((one) => [one, `${PRIORITY_WORDS[one]} priority`] as const),
              ]}
              onChange={(one) => set({ priority: one === ALL ? null : (one as CommentFilter['priority']) })}
            />
            <Narrowing
              label="Said by"
              value={filter.author ?? ALL}
              options={[[ALL, 'Said by anybody'], ...authors.map((name) => [name, name] as const)]}
              onChange={(author) => set({ author: author === ALL ? null : author })}
            />
            <Narrowing
              label="Said in"
              value={filter.meeting ?? ALL}
              options={[
                [ALL, 'Any meeting'],
                ...meetings.map(({ id, title }) => [id, title] as const),
                ['', 'Outside of meetings'],
              ]}
              onChange={(meeting) => set({ meeting: meeting === ALL ? null : meeting })}
            />
            {shape === 'list' ? (
              <>
                <Narrowing
                  label="Order"
                  value={sort}
                  options={SORT_WORDS}
                  onChange={(next) => setSort(next as CommentSort)}
                />
                <Narrowing
                  label="Groups"
                  value={group}
                  options={GROUP_WORDS}
                  onChange={(next) => setGroup(next as CommentGroup)}
                />
              </>
            ) : null}
          </Box>
        </Flex>
      ) : null}
      <Trouble text={trouble} />
      {deleted ? (
        <Card role="status" px="4" py="2" mb="3" display="flex" alignItems="center" gap="3" borderRadius="12px">
          <Text flex="1" truncate dir="auto">
            Comment {deleted.number} was deleted: {deleted.text}
          </Text>
          <QuietButton size="sm" minH="38px" onClick={() => change(deleted.id, { deleted: false })}>
            Undo
          </QuietButton>
        </Card>
      ) : null}
      {chosen.size > 0 ? (
        <Several count={chosen.size} people={people} onChange={changeAll} onClear={() => setChosen(new Set())} />
      ) : null}
      {meetings.length === 0 && threads.length === 0 ? (
        <Text color="softInk">
          No meeting has been held and nothing has been said yet. Start a meeting in the Review.
        </Text>
      ) : shown.length === 0 && threads.length > 0 ? (
        <Text color="softInk" role="status">
          Nothing like that was said.
        </Text>
      ) : shape === 'board' ? (
        <CommentBoard
          comments={shown}
          today={today}
          onOpen={openInList}
          onStatus={(id, status) => change(id, { status })}
        />
      ) : shape === 'calendar' ? (
        <CommentCalendar comments={shown} today={today} onOpen={openInList} />
      ) : (
        <CommentList
          projectId={project.id}
          groups={groups}
          people={people}
          today={today}
          repliesOf={(id) => replies.get(id) ?? []}
          opened={opened}
          onOpen={setOpened}
          onChange={change}
          onReload={reload}
          chosen={chosen}
          onChoose={choose}
        />
      )}
      <MeetingsHeld
        projectId={project.id}
        meetings={meetings}
        isLead={isLead}
        isHeld={holdsMinutes}
        onSent={() => router.refresh()}
      />
    </Box>
  );
}

/** One thing by which the list is narrowed or arranged. */
function Narrowing(props: {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
}) {
  return (
    <Flex flex="1 1 130px" maxW={{ md: '180px' }}>
      <SmallSelect {...props} />
    </Flex>
  );
}
