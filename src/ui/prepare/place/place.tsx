'use client';
import { Box, Flex, Heading, RadioGroup, Stack, Text } from '@chakra-ui/react';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import type { OptionSet } from '@/core/options/option-set';
import type { Placement, PlacementChoice } from '@/core/placement/placement';
import type { StageModelSource } from '@/core/project/models';
import { PrimaryButton, QuietButton, Trouble } from '../../controls';
import { StageAndCard } from '../stage-and-card';
import { HandFields } from './hand-fields';
import { PlaceSession } from './place-session';

interface PlaceProps {
  projectId: string;
  modelId: string;
  models: StageModelSource[];
  initial: PlacementChoice;
  byMap: Placement | null;
  options: OptionSet[];
}

/** Where a model stands among the others; its file is never touched. */
export function Place({ projectId, modelId, models, initial, byMap, options }: PlaceProps) {
  const router = useRouter();
  const home = `/projects/${projectId}/prepare`;
  const [session] = useState(() => new PlaceSession(projectId, modelId, models, initial, byMap, options));
  const { by, hand, picking, pairs, misfit, loading, busy, trouble } = useStore(session.store);
  const element = useRef<HTMLDivElement>(null);
  useEffect(() => session.open(element.current!), [session]);
  const name = models.find((model) => model.modelId === modelId)?.name ?? '';
  const ways: [PlacementChoice['by'], string, string][] = [
    ['file', 'As its file says', 'Its coordinates are the project’s.'],
    [
      'georeference',
      'By the map',
      byMap
        ? 'Its file says where on the map it lies; so does the project.'
        : 'Not to be had: this file and the project’s first do not both say where on one map they lie.',
    ],
    ['hand', 'By hand', 'Moved and turned by numbers, or by points that belong together.'],
  ];
  return (
    <StageAndCard
      element={element}
      loading={loading}
      label="Place in the project"
      picking={picking !== null}
      onEscape={() => session.stopPicking()}
    >
      <Box p="5" pb="3">
        <Heading as="h1" fontSize="xl">
          Place {name}
        </Heading>
        <Text color="softInk" fontSize="sm">
          Its file is never touched; the next revision stands in the same place.
        </Text>
      </Box>
      <Stack flex="1" overflowY="auto" px="5" pb="4" gap="5">
        <RadioGroup.Root
          value={by}
          onValueChange={({ value }) => session.choose(value as PlacementChoice['by'])}
          aria-label="How the model finds its place"
        >
          <Stack gap="3">
            {ways.map(([value, title, detail]) => (
              <RadioGroup.Item
                key={value}
                value={value}
                disabled={value === 'georeference' && !byMap}
                alignItems="start"
                minH="44px"
              >
                <RadioGroup.ItemHiddenInput />
                <RadioGroup.ItemIndicator mt="1" />
                <RadioGroup.ItemText>
                  <b>{title}</b>
                  <Text fontSize="sm" color="softInk" fontWeight="normal">
                    {detail}
                  </Text>
                </RadioGroup.ItemText>
              </RadioGroup.Item>
            ))}
          </Stack>
        </RadioGroup.Root>
        {by === 'hand' ? (
          <Stack gap="4">
            <HandFields placement={hand} onChange={(next) => session.setHand(next)} />
            <Box>
              <QuietButton
                disabled={models.length < 2}
                onClick={() => (picking ? session.stopPicking() : session.startPicking())}
              >
                {picking ? 'Stop picking' : 'Pick points that belong together'}
              </QuietButton>
              <Text role="status" fontSize="sm" mt="2">
                {picking === 'from'
                  ? `Tap ${pairs.length === 0 ? 'a point' : 'a second point'} of ${name}; the others are hidden meanwhile.`
                  : picking === 'to'
                    ? 'Tap where it belongs, on the others.'
                    : misfit === null
                      ? ''
                      : `The two pairs are ${Math.abs(Math.round(misfit * 1000))} mm apart in length.`}
              </Text>
              {picking === 'from' && pairs.length === 1 ? (
                <Text fontSize="sm" color="softInk">
                  Moved by the first pair. A second one also turns it.
                </Text>
              ) : null}
            </Box>
          </Stack>
        ) : null}
        <Trouble text={trouble} />
      </Stack>
      <Flex p="4" gap="3" borderTopWidth="1px" borderColor="seam" wrap="wrap">
        <PrimaryButton loading={busy} onClick={() => void session.keep().then((kept) => kept && router.push(home))}>
          Keep this place
        </PrimaryButton>
        <QuietButton onClick={() => router.push(home)}>Cancel</QuietButton>
      </Flex>
    </StageAndCard>
  );
}
