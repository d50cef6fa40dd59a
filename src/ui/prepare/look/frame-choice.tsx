'use client';
import { Box, Flex, Heading, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { FrameAsRead } from '@/core/project/publish-report';
import { LENGTH_UNITS, unitName, type ModelFrame, type UpAxis } from '@/core/units/length-unit';
import { QuietButton } from '../../controls';
import { Choice } from '../../choice';

interface FrameChoiceProps {
  asRead: FrameAsRead;
  chosen: ModelFrame;
  /** Null where the format leaves no doubt. */
  onChange: ((frame: ModelFrame) => void) | null;
}

/** How the file's numbers are meant. Only a question where the file does not answer it itself. */
export function FrameChoice({ asRead, chosen, onChange }: FrameChoiceProps) {
  const [doubted, setDoubted] = useState(asRead.from !== 'file');
  if (!doubted || !onChange) {
    return (
      <Flex as="section" aria-label="Size" gap="3" align="center">
        <Text fontSize="sm" color="softInk" flex="1">
          {asRead.reason} The figure beside the model is 1.70 m tall.
        </Text>
        {onChange ? (
          <QuietButton size="sm" onClick={() => setDoubted(true)}>
            Read it otherwise
          </QuietButton>
        ) : null}
      </Flex>
    );
  }
  const units: [string, string][] = Object.values(LENGTH_UNITS).map(({ metres, name }) => [String(metres), name]);
  if (!units.some(([metres]) => Number(metres) === asRead.metresPerUnit))
    units.push([String(asRead.metresPerUnit), unitName(asRead.metresPerUnit)]);
  return (
    <Box as="section" aria-label="Size">
      <Heading as="h2" fontSize="md" mb="1">
        Is it as large as it should be?
      </Heading>
      <Text fontSize="sm" color="softInk" mb="3">
        {asRead.from === 'chosen' ? 'Read as you chose it. ' : `${asRead.reason} `}The figure beside the model is 1.70 m
        tall.
      </Text>
      <Flex gap="3">
        <Choice
          label="The file counts in"
          value={String(chosen.metresPerUnit)}
          options={units}
          onChoose={(value) => onChange({ metresPerUnit: Number(value), up: chosen.up })}
        />
        <Choice
          label="Up is"
          value={chosen.up}
          options={[
            ['Z', 'Z'],
            ['Y', 'Y'],
          ]}
          onChoose={(value) => onChange({ metresPerUnit: chosen.metresPerUnit, up: value as UpAxis })}
        />
      </Flex>
    </Box>
  );
}
