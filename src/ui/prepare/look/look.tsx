'use client';
import { Box, Button, Flex, Heading, Stack, Text } from '@chakra-ui/react';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import type { RevisionDetail } from '@/core/project/models';
import type { ModelFrame } from '@/core/units/length-unit';
import { api } from '../../api';
import { useLiveProject } from '../../live-page';
import { PrimaryButton, QuietButton, Trouble } from '../../controls';
import { StageAndCard } from '../stage-and-card';
import { ProgressBar } from '../../progress-bar';
import { elementCount, phaseName } from '../../words';
import { Findings } from './findings';
import { FrameChoice } from './frame-choice';
import { LookSession } from './look-session';
import { OwnModel } from './own-model';
import { RevealTree } from './reveal-tree';
import { Surfaces } from './surfaces';

/** A revision before it is published: is its scale right, and what of it is to be seen? */
export function Look({ projectId, initial }: { projectId: string; initial: RevisionDetail }) {
  const router = useRouter();
  const home = `/projects/${projectId}/prepare`;
  const revisionId = initial.id;
  const [revision, setRevision] = useState(initial);
  const [lost, setLost] = useState<string | null>(null);
  const [session] = useState(() => new LookSession(initial.modelId));
  const [frame, setFrame] = useState<ModelFrame | null>(null);
  const element = useRef<HTMLDivElement>(null);
  const { trouble, loading, busy, revealed } = useStore(session.store);

  const fetchAnew = useCallback(
    () => api.get<RevisionDetail>(`/api/revisions/${revisionId}`).then(setRevision),
    [revisionId],
  );
  useLiveProject(projectId, 'models-changed jobs-changed', fetchAnew, setLost);
  useEffect(() => session.open(element.current!), [session]);
  useEffect(() => {
    if (revision.state === 'ready') void session.load(revision);
  }, [session, revision]);
  const gone = revision.state === 'published';
  useEffect(() => {
    if (gone) router.replace(home);
  }, [gone, home, router]);

  const asRead = revision.report?.frame;
  const chosen = frame ?? asRead ?? null;
  const changed = asRead && chosen && (chosen.metresPerUnit !== asRead.metresPerUnit || chosen.up !== asRead.up);
  const working = revision.state === 'queued' || revision.state === 'running';
  const elements = revision.report?.counts.elements ?? 0;
  return (
    <StageAndCard element={element} loading={loading && revision.state === 'ready'} label="Before publishing">
      <Box p="5" pb="3">
        <Heading as="h1" fontSize="xl">
          {revision.modelName}
        </Heading>
        <Text color="softInk" fontSize="sm">
          {revision.fileName} · {elementCount(elements)}
        </Text>
        <Trouble text={trouble ?? lost} />
      </Box>
      <Box flex="1" overflowY="auto" px="5" pb="4" tabIndex={0} aria-label="Settings of this revision" role="group">
        {working ? (
          <Box role="status" pb="4">
            <Text fontSize="sm">{phaseName(revision.phase)}</Text>
            <ProgressBar share={revision.share} label={`Publication of ${revision.fileName}`} />
          </Box>
        ) : null}
        {revision.state === 'failed' ? <Trouble text={revision.error} /> : null}
        <Stack gap="6">
          {chosen && asRead ? (
            <FrameChoice
              asRead={asRead}
              chosen={chosen}
              onChange={revision.report?.source.format === 'IFC' ? null : setFrame}
            />
          ) : null}
          <Findings session={session} fit={revision.fit} />
          <Decisions session={session} />
        </Stack>
      </Box>
      {revealed > 0 && revealed < elements && !working ? (
        <OwnModel session={session} revisionId={revisionId} frame={frame ?? undefined} />
      ) : null}
      <Flex p="4" gap="3" borderTopWidth="1px" borderColor="seam" align="center" wrap="wrap">
        {changed ? (
          <QuietButton disabled={working || busy} onClick={() => void session.readAs(revisionId, chosen)}>
            Show it like that
          </QuietButton>
        ) : null}
        <PrimaryButton
          disabled={working || revealed === 0}
          loading={busy}
          onClick={() => void session.publish(revisionId, frame ?? undefined)}
        >
          {revealed < elements ? `Publish ${elementCount(revealed)}` : 'Publish'}
        </PrimaryButton>
        <QuietButton
          disabled={working || busy}
          onClick={() =>
            void session.putAside(revisionId).then((done) => {
              if (done) router.replace(home);
            })
          }
        >
          Discard
        </QuietButton>
      </Flex>
    </StageAndCard>
  );
}

/** What one decides about: what is to be seen, and how it looks. One at a time. */
function Decisions({ session }: { session: LookSession }) {
  const [page, setPage] = useState<'seen' | 'surfaces'>('seen');
  const changed = useStore(session.store, (state) => state.surfaces.length);
  return (
    <Box>
      <Flex role="group" aria-label="Decide about" gap="1" mb="3">
        {(
          [
            ['seen', 'What is to be seen?'],
            ['surfaces', `Colours and materials${changed > 0 ? ` (${changed})` : ''}`],
          ] as const
        ).map(([key, name]) => (
          <Button
            key={key}
            aria-pressed={page === key}
            onClick={() => setPage(key)}
            variant="plain"
            h="44px"
            px="1"
            mr="3"
            borderRadius="0"
            color={page === key ? 'ink' : 'softInk'}
            fontWeight="bold"
            borderWidth="0"
            borderBottomWidth="3px"
            borderColor={page === key ? 'ink' : 'transparent'}
          >
            {name}
          </Button>
        ))}
      </Flex>
      {page === 'seen' ? <RevealTree session={session} /> : <Surfaces session={session} />}
    </Box>
  );
}
