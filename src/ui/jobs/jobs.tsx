'use client';
import { Box, Flex, Heading, Link, Stack, Table, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useCallback, useRef, useState } from 'react';
import type { JobFilter, JobPage, JobSummary } from '@/core/jobs/job';
import { api, messageOf } from '../api';
import { JobProgress } from '../job-progress';
import { useLiveProject } from '../live-page';
import { Card, QuietButton, Trouble } from '../controls';
import { Time } from '../time';
import { duration, kilobytes } from '../words';

const FILTERS: [JobFilter, string][] = [
  ['all', 'All'],
  ['going-on', 'Going on'],
  ['failed', 'Failed'],
];

/** All publications of an account's projects: those that run, wait and are over. */
export function Jobs({ initial, projectIds }: { initial: JobPage; projectIds: string[] }) {
  const [filter, setFilter] = useState<JobFilter>('all');
  const [page, setPage] = useState(initial);
  const [older, setOlder] = useState<JobSummary[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  // What is asked for last is answered last, whichever filter it is for.
  const wanted = useRef(filter);
  const fetchAnew = useCallback(() => api.get<JobPage>(`/api/jobs?filter=${wanted.current}`).then(setPage), []);
  const reload = useLiveProject(projectIds.join(' '), 'models-changed jobs-changed', fetchAnew, setTrouble);

  const choose = (chosen: JobFilter) => {
    wanted.current = chosen;
    setFilter(chosen);
    setOlder([]);
    void reload();
  };
  const known = new Set(page.jobs.map(({ id }) => id));
  const jobs = [...page.jobs, ...older.filter(({ id }) => !known.has(id))];
  const next = older.length > 0 ? older.at(-1)!.queuedAt : page.next;
  const [atEnd, setAtEnd] = useState(false);
  const more = () =>
    api.get<JobPage>(`/api/jobs?filter=${filter}&before=${encodeURIComponent(next!)}`).then(
      (answer) => {
        if (wanted.current !== filter) return;
        setOlder((old) => [...old, ...answer.jobs]);
        setAtEnd(answer.next === null);
      },
      (error: unknown) => setTrouble(messageOf(error)),
    );

  return (
    <Box as="main" maxW="1180px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
      <Flex align="end" gap="3" wrap="wrap" mb="6">
        <Box flex="1" minW="220px">
          <Heading as="h1" fontSize="3xl">
            Jobs
          </Heading>
          <Text color="softInk">What is being published, in all your projects, and what became of it.</Text>
        </Box>
        <Flex gap="2" role="group" aria-label="Which jobs to show">
          {FILTERS.map(([key, label]) => (
            <QuietButton key={key} size="sm" aria-pressed={filter === key} onClick={() => choose(key)}>
              {label}
            </QuietButton>
          ))}
        </Flex>
      </Flex>
      <Trouble text={trouble} />
      {jobs.length === 0 ? (
        <Text color="softInk">
          {filter === 'all' ? 'Nothing was brought in yet. Open a project and drop a file on Prepare.' : 'None.'}
        </Text>
      ) : (
        <Card p="2" overflowX="auto">
          <Table.Root size="md" aria-label="Jobs">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader>File</Table.ColumnHeader>
                <Table.ColumnHeader>Project</Table.ColumnHeader>
                <Table.ColumnHeader>Brought in</Table.ColumnHeader>
                <Table.ColumnHeader minW="220px">How it stands</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">Took</Table.ColumnHeader>
                <Table.ColumnHeader>
                  <Box srOnly>Acts</Box>
                </Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {jobs.map((job) => (
                <JobRow key={job.id} job={job} onChanged={reload} onTrouble={setTrouble} />
              ))}
            </Table.Body>
          </Table.Root>
        </Card>
      )}
      {next && !(atEnd && older.length > 0) ? (
        <QuietButton mt="4" onClick={() => void more()}>
          Show older ones
        </QuietButton>
      ) : null}
    </Box>
  );
}

function JobRow({
  job,
  onChanged,
  onTrouble,
}: {
  job: JobSummary;
  onChanged: () => void;
  onTrouble: (text: string | null) => void;
}) {
  const act = (verb: 'stop' | 'retry') =>
    api.post(`/api/revisions/${job.id}/${verb}`, {}).then(
      () => (onTrouble(null), onChanged()),
      (error: unknown) => onTrouble(messageOf(error)),
    );
  const goesOn = job.state === 'queued' || job.state === 'running';
  return (
    <Table.Row bg="transparent" verticalAlign="top" css={{ '&:last-of-type td': { borderBottom: 'none' } }}>
      <Table.Cell minW="180px">
        <Text fontWeight="bold">
          {job.modelName} {job.code ?? ''}
        </Text>
        <Text fontSize="sm" color="softInk" wordBreak="break-word">
          {job.fileName}, {kilobytes(job.fileBytes)}
        </Text>
      </Table.Cell>
      <Table.Cell minW="120px">
        <Link asChild textDecoration="underline" textDecorationColor="seam" textUnderlineOffset="3px">
          <NextLink href={`/projects/${job.projectId}/prepare`}>{job.projectName}</NextLink>
        </Link>
      </Table.Cell>
      <Table.Cell minW="130px">
        <Text>{job.author}</Text>
        <Text fontSize="sm" color="softInk">
          <Time at={job.queuedAt} />
        </Text>
      </Table.Cell>
      <Table.Cell>
        <Outcome job={job} />
      </Table.Cell>
      <Table.Cell textAlign="end" whiteSpace="nowrap">
        {job.took === null ? '' : duration(job.took)}
      </Table.Cell>
      <Table.Cell textAlign="end">
        {goesOn ? (
          <QuietButton size="sm" onClick={() => void act('stop')} aria-label={`Stop ${job.fileName}`}>
            Stop
          </QuietButton>
        ) : job.state === 'failed' ? (
          <QuietButton size="sm" onClick={() => void act('retry')} aria-label={`Try ${job.fileName} again`}>
            Try again
          </QuietButton>
        ) : job.state === 'ready' ? (
          <QuietButton size="sm" asChild>
            <NextLink href={`/projects/${job.projectId}/prepare/${job.id}`}>Look</NextLink>
          </QuietButton>
        ) : null}
      </Table.Cell>
    </Table.Row>
  );
}

function Outcome({ job }: { job: JobSummary }) {
  switch (job.state) {
    case 'queued':
    case 'running':
      return (
        <Stack gap="1">
          <JobProgress job={job} />
          {job.state === 'running' && job.worker ? (
            <Text fontSize="sm" color="softInk">
              on {job.worker.replace('#', ', process ')}
            </Text>
          ) : null}
        </Stack>
      );
    case 'failed':
      return (
        <Text fontSize="sm" maxW="420px">
          <b>Not published.</b> {job.error}
        </Text>
      );
    case 'ready':
      return <Text>Read, and waits to be looked at</Text>;
    case 'published':
      return <Text>Published</Text>;
  }
}
