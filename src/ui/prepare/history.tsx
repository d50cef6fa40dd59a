'use client';
import { Box, Flex, Image, Stack, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { RevisionSummary } from '@/core/project/models';
import { QuietButton } from '../controls';
import { Time } from '../time';
import { elementCount, kilobytes } from '../words';
import { RevisionActs } from './revision-acts';

/** Revisions shown at a time. */
const PAGE = 20;

interface HistoryProps {
  projectId: string;
  /** The model's name. */
  model: string;
  /** Published ones that are not the newest, or were withdrawn; newest first. */
  revisions: RevisionSummary[];
  onChanged: () => void;
}

/** What a model was before: each revision with its picture, and what can be done with it. */
export function History({ projectId, model, revisions, onChanged }: HistoryProps) {
  const [open, setOpen] = useState(false);
  const [count, setCount] = useState(PAGE);
  return (
    <Box asChild mt="3" pt="3" borderTopWidth="1px" borderColor="seam">
      <details onToggle={(event) => setOpen(event.currentTarget.open)}>
        <Text asChild fontSize="sm" color="softInk" cursor="pointer">
          <summary>
            {revisions.length} {revisions.length === 1 ? 'other revision' : 'other revisions'}
          </summary>
        </Text>
        {open ? (
          <Stack as="ol" listStyleType="none" gap="3" mt="3" aria-label={`History of ${model}`}>
            {revisions.slice(0, count).map((revision) => (
              <Flex as="li" key={revision.id} gap="3" align="center">
                <Image
                  src={`${revision.files}preview.png`}
                  alt=""
                  loading="lazy"
                  w="80px"
                  h="50px"
                  objectFit="cover"
                  borderRadius="md"
                  bg="felt"
                  flexShrink="0"
                  opacity={revision.withdrawn ? 0.5 : 1}
                />
                <Box flex="1" minW="0">
                  <Text>
                    <b>{revision.code}</b> {revision.note || revision.fileName}
                  </Text>
                  <Text fontSize="sm" color="softInk">
                    {revision.author}, <Time at={revision.publishedAt ?? revision.createdAt} />
                    {revision.digest
                      ? ` · ${elementCount(revision.digest.elements)}, ${kilobytes(revision.digest.sent)}`
                      : ''}
                  </Text>
                  {revision.withdrawn ? (
                    <Text fontSize="sm" color="ochre">
                      Withdrawn by {revision.withdrawn.by}, <Time at={revision.withdrawn.at} />
                    </Text>
                  ) : null}
                </Box>
                <RevisionActs projectId={projectId} revision={revision} isNewest={false} onChanged={onChanged} />
              </Flex>
            ))}
            {revisions.length > count ? (
              <QuietButton size="sm" alignSelf="start" onClick={() => setCount(count + PAGE)}>
                Show older ones
              </QuietButton>
            ) : null}
          </Stack>
        ) : null}
      </details>
    </Box>
  );
}
