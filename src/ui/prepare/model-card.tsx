'use client';
import { Box, Flex, Heading, Image, Stack, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useState } from 'react';
import { api, messageOf } from '../api';
import { Card, QuietButton, Trouble } from '../pieces';
import { JobProgress } from '../job-progress';
import { Weight } from './weight';
import { findingTitle, kilobytes, plainNumber, when } from '../words';
import type { ModelSummary, RevisionSummary } from '@/core/project/models';

interface ModelCardProps {
  /** Address of the Prepare station. */
  home: string;
  model: ModelSummary;
  onChanged: () => void;
}

/** A model with its newest revision large and the older ones as lines. */
export function ModelCard({ home, model, onChanged }: ModelCardProps) {
  const shown =
    model.revisions.find((revision) => revision.state === 'published') ??
    model.revisions.find((revision) => revision.state === 'ready');
  return (
    <Card p="4">
      <Flex gap="4" direction={{ base: 'column', sm: 'row' }}>
        <Box w={{ base: 'full', sm: '200px' }} h="125px" bg="felt" borderRadius="lg" overflow="hidden" flexShrink="0">
          {shown?.files ? (
            <Image
              src={`${shown.files}preview.png`}
              alt={`${model.name}, ${shown.code ?? 'not published yet'}, from above`}
              w="full"
              h="full"
              objectFit="cover"
            />
          ) : null}
        </Box>
        <Box flex="1" minW="0">
          <Heading as="h2" fontSize="xl">
            {model.name}
          </Heading>
          <Text color="softInk" fontSize="sm" mb="3">
            {model.discipline === model.name ? shown?.fileName : model.discipline}
          </Text>
          <Stack gap="3" as="ol" listStyleType="none" aria-label={`Revisions of ${model.name}`}>
            {model.revisions.map((revision) => (
              <RevisionLine key={revision.id} home={home} revision={revision} onChanged={onChanged} />
            ))}
          </Stack>
        </Box>
      </Flex>
    </Card>
  );
}

function RevisionLine({
  home,
  revision,
  onChanged,
}: {
  home: string;
  revision: RevisionSummary;
  onChanged: () => void;
}) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const { report } = revision;
  return (
    <Box as="li">
      <Flex gap="3" align="baseline" wrap="wrap">
        <Text fontWeight="bold" color={revision.state === 'published' ? 'madder' : 'softInk'}>
          {revision.code ?? '—'}
        </Text>
        <Text flex="1" minW="160px">
          {revision.note || revision.fileName}
        </Text>
        <Text color="softInk" fontSize="sm">
          {revision.author}, {when(revision.publishedAt ?? revision.createdAt)}
        </Text>
      </Flex>
      {report ? (
        <Text color="softInk" fontSize="sm">
          {report.source.format === 'IFC' ? report.source.schema : report.source.format} ·{' '}
          {plainNumber(report.counts.elements)} elements · {plainNumber(report.counts.triangles)} triangles ·{' '}
          {kilobytes(report.weight.tilesBrotli + report.weight.indexBrotli)} to send
          {report.forecast ? `, ${kilobytes(report.forecast.firstLook)} until it shows` : ''}
        </Text>
      ) : null}
      {report && report.withheld.elements > 0 ? (
        <Text fontSize="sm" color="softInk">
          {plainNumber(report.withheld.elements)} elements withheld
          {report.withheld.newCategories.length > 0
            ? `, among them what is new in this file: ${report.withheld.newCategories.join(', ')}`
            : ''}
        </Text>
      ) : null}
      {report && report.mended.length > 0 ? (
        <Text fontSize="sm" color="softInk">
          Mended: {report.mended.map(({ kind, count }) => findingTitle(kind, count)).join(', ')}
        </Text>
      ) : null}
      {revision.state === 'ready' ? (
        <Flex gap="3" align="center" mt="2" wrap="wrap">
          <Text fontSize="sm" flex="1" minW="160px">
            {report?.frame.from === 'proposed'
              ? 'Read, but not published yet: the file does not say how large it is.'
              : 'Read, and waiting to be looked at.'}
          </Text>
          <QuietButton asChild size="sm">
            <NextLink href={`${home}/${revision.id}`}>Look and publish</NextLink>
          </QuietButton>
        </Flex>
      ) : null}
      {report?.forecast ? <Weight report={report} forecast={report.forecast} /> : null}
      {report && report.unread.length > 0 ? <Unread list={report.unread} /> : null}
      {revision.state === 'queued' || revision.state === 'running' ? (
        <Box>
          <JobProgress job={{ ...revision, seconds: revision.secondsLeft }} />
          <QuietButton
            size="sm"
            mt="2"
            onClick={() =>
              api
                .post(`/api/revisions/${revision.id}/stop`, {})
                .then(onChanged, (error: unknown) => setTrouble(messageOf(error)))
            }
          >
            Stop
          </QuietButton>
          <Trouble text={trouble} />
        </Box>
      ) : null}
      {revision.state === 'failed' ? (
        <Stack gap="2" mt="1" align="start">
          <Trouble text={revision.error} />
          <QuietButton
            size="sm"
            onClick={() =>
              api
                .post(`/api/revisions/${revision.id}/retry`, {})
                .then(onChanged, (error: unknown) => setTrouble(messageOf(error)))
            }
          >
            Try again
          </QuietButton>
          <Trouble text={trouble} />
        </Stack>
      ) : null}
    </Box>
  );
}

function Unread({ list }: { list: { guid?: string; name?: string; category?: string; reason: string }[] }) {
  return (
    <Box asChild fontSize="sm" color="ochre">
      <details>
        <summary>{list.length} not read</summary>
        <Stack as="ul" gap="1" mt="1" color="softInk" maxH="180px" overflowY="auto" tabIndex={0}>
          {list.map((warning, i) => (
            <li key={i}>
              {[warning.category, warning.name, warning.guid].filter(Boolean).join(' · ')}: {warning.reason}
            </li>
          ))}
        </Stack>
      </details>
    </Box>
  );
}
