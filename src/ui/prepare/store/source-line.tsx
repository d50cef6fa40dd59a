'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import type { StoreSource } from '@/core/project/model-store';
import { QuietButton, Trouble } from '../../controls';
import { Toggle } from '../../toggle';
import type { ReactNode } from 'react';
import { Time } from '../../time';

interface SourceLineProps {
  source: StoreSource;
  onFollow: (follow: boolean) => void;
  onTake: () => void;
  onRemove: () => void;
}

/** A file of the store: what became of its last version, and whether the next one comes by itself. */
export function SourceLine({ source, onFollow, onTake, onRemove }: SourceLineProps) {
  const { fileName, path, modelName, follow, newest, taken, trouble } = source;
  const isBehind = newest > (taken?.version ?? 0);
  return (
    <Box as="li" aria-label={fileName} borderTopWidth="1px" borderColor="seam" py="3">
      <Flex gap="3" align="center" wrap="wrap">
        <Box flex="1" minW="240px">
          <Text fontWeight="bold" overflowWrap="anywhere">
            {fileName}
          </Text>
          <Text color="softInk" fontSize="sm">
            {path.join(' / ')} · becomes {modelName}
            {source.yours ? '' : ` · by way of ${source.owner}`}
          </Text>
          <Text fontSize="sm">{standing(source)}</Text>
        </Box>
        <Toggle checked={follow} onToggle={onFollow} name={`Follow ${fileName}`}>
          {follow ? 'new versions come by themselves' : 'only when you ask'}
        </Toggle>
        {isBehind && (!follow || trouble) ? (
          <QuietButton size="sm" onClick={onTake}>
            {trouble ? 'Try again' : `Publish version ${newest}`}
          </QuietButton>
        ) : null}
        <QuietButton size="sm" onClick={onRemove} aria-label={`Let go of ${fileName}`}>
          Let go
        </QuietButton>
      </Flex>
      {trouble ? (
        <Box mt="2">
          <Trouble text={trouble} />
        </Box>
      ) : null}
    </Box>
  );
}

function standing({ newest, taken, trouble, follow }: StoreSource): ReactNode {
  if (!taken) return trouble ? 'Nothing was taken yet.' : `Version ${newest} is being fetched.`;
  const outcome = taken.code
    ? `published as ${taken.code}`
    : taken.state === 'failed'
      ? 'not published; see the model below'
      : taken.state === 'ready'
        ? 'read, waiting to be looked at'
        : 'being published';
  const next = follow && !trouble ? `Version ${newest} is being fetched.` : `Version ${newest} is there.`;
  return (
    <>
      Version {taken.version} of <Time at={taken.at} />: {outcome}.{newest > taken.version ? ` ${next}` : null}
    </>
  );
}
