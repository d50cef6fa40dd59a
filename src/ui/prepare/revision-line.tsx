'use client';
import { Box, Button, Flex, Link, Stack, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { RevisionSummary } from '@/core/project/models';
import type { RevisionDigest } from '@/core/project/revision-digest';
import { plainNumber } from '@/core/plain-number';
import { api, messageOf } from '../api';
import { JobProgress } from '../job-progress';
import { PrimaryButton, QuietButton, Trouble } from '../controls';
import { Time } from '../time';
import { elementCount, findingTitle, kilobytes, mendedTitle } from '../words';
import { lookAgain, RevisionActs } from './revision-acts';
import { SurfaceChanges } from './surface-changes';
import { Unread } from './unread';
import { Weight } from './weight';

interface RevisionLineProps {
  projectId: string;
  revision: RevisionSummary;
  isNewest: boolean;
  onChanged: () => void;
}

/** A revision with what became of its file, as long as it is the newest or under way. */
export function RevisionLine({ projectId, revision, isNewest, onChanged }: RevisionLineProps) {
  const router = useRouter();
  const [trouble, setTrouble] = useState<string | null>(null);
  const { digest, state } = revision;
  const act = (work: Promise<unknown>) => work.then(onChanged, (error: unknown) => setTrouble(messageOf(error)));
  return (
    <Flex as="li" gap="3" align="start">
      <Text fontWeight="bold" minW="9" color={state === 'published' ? 'madder' : 'softInk'}>
        {revision.code ?? '—'}
      </Text>
      <Box flex="1" minW="0">
        <Text>{revision.note || revision.fileName}</Text>
        <Text color="softInk" fontSize="sm">
          {revision.author}, <Time at={revision.publishedAt ?? revision.createdAt} />
        </Text>
        {revision.approval ? (
          <Text fontSize="sm">
            <Link asChild color="indigo" textDecoration="underline">
              <NextLink href={`/projects/${projectId}/approvals`}>{revision.approval}</NextLink>
            </Link>
          </Text>
        ) : null}
        {digest ? <Digest revisionId={revision.id} digest={digest} /> : null}
        {digest && digest.noticed.length > 0 ? (
          <Text fontSize="sm" color="ochre">
            Noticed: {digest.noticed.map(({ kind, count }) => findingTitle(kind, count)).join(', ')}.{' '}
            {state === 'published' ? (
              <Button
                variant="plain"
                h="auto"
                minW="0"
                p="0"
                fontSize="sm"
                fontWeight="normal"
                verticalAlign="baseline"
                color="ochre"
                textDecoration="underline"
                textUnderlineOffset="3px"
                onClick={() =>
                  void lookAgain(projectId, revision.id).then(
                    (page) => router.push(page),
                    (error: unknown) => setTrouble(messageOf(error)),
                  )
                }
              >
                Look at it
              </Button>
            ) : null}
          </Text>
        ) : null}
        {state === 'ready' ? (
          <Flex gap="3" align="center" mt="2" wrap="wrap">
            <Text fontSize="sm" flex="1" minW="160px">
              {digest?.scaleGuessed
                ? 'Read, but not published yet: the file does not say how large it is.'
                : 'Read, and waiting to be looked at.'}
            </Text>
            <PrimaryButton asChild size="sm">
              <NextLink href={`/projects/${projectId}/prepare/${revision.id}`}>Look and publish</NextLink>
            </PrimaryButton>
          </Flex>
        ) : null}
        {digest?.heavyOn ? <Weight revisionId={revision.id} heavyOn={digest.heavyOn} /> : null}
        {digest && digest.unread > 0 ? <Unread revisionId={revision.id} count={digest.unread} /> : null}
        {state === 'queued' || state === 'running' ? (
          <Box>
            <JobProgress job={{ ...revision, seconds: revision.secondsLeft }} />
            <QuietButton size="sm" mt="2" onClick={() => void act(api.post(`/api/revisions/${revision.id}/stop`, {}))}>
              Stop
            </QuietButton>
          </Box>
        ) : null}
        {state === 'failed' ? (
          <Stack gap="2" mt="1" align="start">
            <Trouble text={revision.error} />
            <Flex gap="2">
              <QuietButton size="sm" onClick={() => void act(api.post(`/api/revisions/${revision.id}/retry`, {}))}>
                Try again
              </QuietButton>
              <QuietButton size="sm" onClick={() => void act(api.delete(`/api/revisions/${revision.id}/decision`))}>
                Discard
              </QuietButton>
            </Flex>
          </Stack>
        ) : null}
        <Trouble text={trouble} />
      </Box>
      {state === 'published' ? (
        <Box my="-2.5">
          <RevisionActs projectId={projectId} revision={revision} isNewest={isNewest} onChanged={onChanged} />
        </Box>
      ) : null}
    </Flex>
  );
}

function Digest({ revisionId, digest }: { revisionId: string; digest: RevisionDigest }) {
  const { withheld, mended, surfaces } = digest;
  return (
    <Box color="softInk" fontSize="sm">
      <Text>
        {digest.format === 'IFC' ? digest.schema : digest.format} · {elementCount(digest.elements)} ·{' '}
        {plainNumber(digest.triangles)} triangles
      </Text>
      <Text>
        {kilobytes(digest.sent)} to send
        {digest.firstLook === null ? '' : `, ${kilobytes(digest.firstLook)} until it shows`}
      </Text>
      {withheld.elements > 0 ? (
        <Text>
          {elementCount(withheld.elements)} withheld
          {withheld.newCategories.length > 0
            ? `, among them what is new in this file: ${withheld.newCategories.join(', ')}`
            : ''}
        </Text>
      ) : null}
      {mended.length > 0 ? <Text>Mended: {mended.map(mendedTitle).join(', ')}</Text> : null}
      {surfaces.applied + surfaces.idle > 0 ? <SurfaceChanges revisionId={revisionId} {...surfaces} /> : null}
    </Box>
  );
}
