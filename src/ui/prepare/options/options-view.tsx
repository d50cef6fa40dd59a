'use client';
import { Box, Flex, Heading, RadioGroup, Stack, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useEffect, useRef, useState } from 'react';
import type { OptionSet } from '@/core/options/option-set';
import type { ProjectDetail, StageModelSource } from '@/core/project/models';
import { Stage } from '@/stage/stage';
import { messageOf } from '../../api';
import { PrimaryButton, Trouble } from '../../controls';
import { StageAndCard } from '../stage-and-card';
import { MemberWords } from './member-words';

interface OptionsViewProps {
  project: ProjectDetail;
  models: StageModelSource[];
  sets: OptionSet[];
  set: OptionSet;
}

/** The options of one place, looked at one after the other among all that stands around. */
export function OptionsView({ project, models, sets, set }: OptionsViewProps) {
  const element = useRef<HTMLDivElement>(null);
  const stage = useRef<Stage | null>(null);
  const [chosen, setChosen] = useState(set.options[0]?.id ?? '');
  const [loading, setLoading] = useState(true);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    const made = new Stage(element.current!, { onLoading: setLoading });
    stage.current = made;
    made.setModels(models).then(
      () => made.showWhole(),
      (error: unknown) => {
        setTrouble(messageOf(error));
        setLoading(false);
      },
    );
    return () => {
      made.dispose();
      stage.current = null;
    };
  }, [models]);
  useEffect(() => stage.current?.setOptions(sets, { [set.id]: chosen }), [sets, set, chosen, models]);
  return (
    <StageAndCard element={element} loading={loading} label="Options of a place">
      <Box p="5" pb="3">
        <Heading as="h1" fontSize="xl">
          {set.name}
        </Heading>
        <Text color="softInk" fontSize="sm">
          Looking changes nothing: the Review begins with {set.options[0]?.name ?? 'none'}.
        </Text>
      </Box>
      <Stack flex="1" overflowY="auto" px="5" pb="4" gap="4">
        <RadioGroup.Root
          value={chosen}
          onValueChange={({ value }) => setChosen(value ?? '')}
          aria-label="Which option shows"
        >
          <Stack gap="3">
            {set.options.map((option) => (
              <Box key={option.id}>
                <RadioGroup.Item value={option.id} alignItems="center" minH="44px">
                  <RadioGroup.ItemHiddenInput />
                  <RadioGroup.ItemIndicator />
                  <RadioGroup.ItemText>
                    <b>{option.name}</b>
                  </RadioGroup.ItemText>
                </RadioGroup.Item>
                <Box as="ul" listStyleType="none" pl="7">
                  {option.members.map((member, i) => (
                    <MemberWords key={i} member={member} models={project.models} />
                  ))}
                </Box>
              </Box>
            ))}
          </Stack>
        </RadioGroup.Root>
        <Trouble text={trouble} />
      </Stack>
      <Flex p="4" gap="3" borderTopWidth="1px" borderColor="seam" wrap="wrap">
        <PrimaryButton asChild>
          <NextLink href={`/projects/${project.id}/prepare`}>Back to Prepare</NextLink>
        </PrimaryButton>
      </Flex>
    </StageAndCard>
  );
}
