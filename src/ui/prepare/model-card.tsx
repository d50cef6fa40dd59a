'use client';
import { Box, Flex, Heading, Image, Link, Stack, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import type { PlacementChoice } from '@/core/placement/placement';
import { newestOf, type ModelSummary, type RevisionSummary } from '@/core/project/models';
import { Card } from '../controls';
import { fitSentence } from '../words';
import { History } from './history';
import { RevisionLine } from './revision-line';

const PLACED: Record<PlacementChoice['by'], string> = {
  file: 'stands as its file says',
  georeference: 'placed by the map',
  hand: 'placed by hand',
};

interface ModelCardProps {
  projectId: string;
  model: ModelSummary;
  onChanged: () => void;
}

/** A model with its newest revision and what is under way; what was before it lies in its history. */
export function ModelCard({ projectId, model, onChanged }: ModelCardProps) {
  const newest = newestOf(model.revisions);
  const shown = newest ?? model.revisions.find((revision) => revision.state === 'ready');
  const present = model.revisions.filter((revision) => revision === newest || revision.state !== 'published');
  const past = model.revisions.filter((revision) => !present.includes(revision)).sort(byNumber);
  return (
    <Card p="4">
      <Flex gap="4" direction={{ base: 'column', sm: 'row' }}>
        <Box w={{ base: 'full', sm: '200px' }} h="125px" bg="felt" borderRadius="lg" overflow="hidden" flexShrink="0">
          {shown?.files ? (
            <Image
              src={`${shown.files}preview.png`}
              alt={`${model.name}, ${shown.code ?? 'not published yet'}, from above`}
              loading="lazy"
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
            {newest ? (
              <>
                {' · '}
                <Link asChild textDecoration="underline" textDecorationColor="seam" textUnderlineOffset="3px">
                  <NextLink href={`/projects/${projectId}/prepare/place/${model.id}`}>
                    {PLACED[model.placement.by]}
                  </NextLink>
                </Link>
              </>
            ) : null}
          </Text>
          {model.fit ? (
            <Text color="ochre" fontSize="sm" mb="3">
              {fitSentence(model.fit)}{' '}
              <Link asChild textDecoration="underline" textUnderlineOffset="3px">
                <NextLink href={`/projects/${projectId}/prepare/place/${model.id}`}>Place it</NextLink>
              </Link>
            </Text>
          ) : null}
          <Stack gap="3" as="ol" listStyleType="none" aria-label={`Revisions of ${model.name}`}>
            {present.map((revision) => (
              <RevisionLine
                key={revision.id}
                projectId={projectId}
                revision={revision}
                isNewest={revision === newest}
                onChanged={onChanged}
              />
            ))}
          </Stack>
          {past.length > 0 ? (
            <History projectId={projectId} model={model.name} revisions={past} onChanged={onChanged} />
          ) : null}
        </Box>
      </Flex>
    </Card>
  );
}

function byNumber(a: RevisionSummary, b: RevisionSummary): number {
  return Number(b.code!.slice(1)) - Number(a.code!.slice(1));
}
