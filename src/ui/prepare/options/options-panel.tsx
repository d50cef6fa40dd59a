'use client';
import { Box, Flex, Heading, Stack, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useState } from 'react';
import type { OptionSet } from '@/core/options/option-set';
import type { ProjectDetail } from '@/core/project/models';
import { api, messageOf } from '../../api';
import { Card, QuietButton, Trouble } from '../../controls';
import { MemberWords } from './member-words';
import { OptionsEditor } from './options-editor';

interface OptionsPanelProps {
  project: ProjectDetail;
  sets: OptionSet[];
  onChanged: () => void;
}

/** Design options: places that have alternatives, of which the Review shows one. */
export function OptionsPanel({ project, sets, onChanged }: OptionsPanelProps) {
  const [edited, setEdited] = useState<OptionSet | 'new' | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const base = `/api/projects/${project.id}/options`;
  const done = () => {
    setEdited(null);
    onChanged();
  };
  return (
    <Card as="section" p="5" aria-label="Design options">
      <Heading as="h2" fontSize="lg">
        Design options
      </Heading>
      <Text color="softInk" fontSize="sm" mb="4">
        Two or more designs of one place, such as a roof. The Review shows one and switches between them.
      </Text>
      <Trouble text={trouble} />
      <Stack as="ul" listStyleType="none" gap="3">
        {sets.map((set) =>
          edited !== 'new' && edited?.id === set.id ? (
            <Box as="li" key={set.id}>
              <OptionsEditor project={project} base={base} set={set} onDone={done} onLeave={() => setEdited(null)} />
            </Box>
          ) : (
            <Box as="li" key={set.id} borderTopWidth="1px" borderColor="seam" pt="3">
              <Text fontWeight="bold">{set.name}</Text>
              {set.options.map((option) => (
                <Box key={option.id} mt="1" fontSize="sm">
                  {option.name}
                  <Box as="ul" listStyleType="none" pl="3">
                    {option.members.map((member, i) => (
                      <MemberWords key={i} member={member} models={project.models} />
                    ))}
                    {option.members.length === 0 ? (
                      <Text as="li" color="softInk">
                        nothing: the place stays empty
                      </Text>
                    ) : null}
                  </Box>
                </Box>
              ))}
              <Flex gap="2" mt="2" wrap="wrap">
                <QuietButton size="sm" asChild>
                  <NextLink href={`/projects/${project.id}/prepare/options/${set.id}`}>See them in place</NextLink>
                </QuietButton>
                <QuietButton size="sm" onClick={() => setEdited(set)}>
                  Change
                </QuietButton>
                <QuietButton
                  size="sm"
                  aria-label={`Remove ${set.name}`}
                  onClick={() =>
                    void api.delete(`${base}/${set.id}`).then(done, (error: unknown) => setTrouble(messageOf(error)))
                  }
                >
                  Remove
                </QuietButton>
              </Flex>
            </Box>
          ),
        )}
      </Stack>
      {edited === 'new' ? (
        <OptionsEditor project={project} base={base} set={null} onDone={done} onLeave={() => setEdited(null)} />
      ) : (
        <QuietButton
          mt={sets.length > 0 ? '4' : '0'}
          disabled={project.models.length === 0}
          onClick={() => setEdited('new')}
        >
          Add a place
        </QuietButton>
      )}
    </Card>
  );
}
