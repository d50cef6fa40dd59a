'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { useStore } from 'zustand';
import type { ModelFrame } from '@/core/units/length-unit';
import { Field, QuietButton } from '../../controls';
import type { LookSession } from './look-session';

interface OwnModelProps {
  session: LookSession;
  revisionId: string;
  frame: ModelFrame | undefined;
}

/** Publishes what is ticked as a model of its own; one stays here, for the next part or the rest. */
export function OwnModel({ session, revisionId, frame }: OwnModelProps) {
  const [name, setName] = useState('');
  const [sent, setSent] = useState<string | null>(null);
  const busy = useStore(session.store, (state) => state.busy);
  const publish = async () => {
    if (await session.publishPart(revisionId, name.trim(), frame)) {
      setSent(name.trim());
      setName('');
    }
  };
  return (
    <Box asChild borderTopWidth="1px" borderColor="seam" px="4" py="3" fontSize="sm">
      <details>
        <summary>Publish what is ticked as a model of its own</summary>
        <Flex
          as="form"
          gap="2"
          align="end"
          mt="2"
          onSubmit={(event) => {
            event.preventDefault();
            void publish();
          }}
        >
          <Box flex="1">
            <Field
              label="Name of the new model"
              placeholder="Furniture"
              maxLength={120}
              required
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </Box>
          <QuietButton type="submit" disabled={busy || name.trim() === ''}>
            Publish the part
          </QuietButton>
        </Flex>
        <Text role="status" color="softInk" mt="1">
          {sent === null
            ? 'It stays in its place among the others.'
            : `“${sent}” is on its way. You can go on with what is left here.`}
        </Text>
      </details>
    </Box>
  );
}
