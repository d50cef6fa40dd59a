'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { useStore } from 'zustand';
import type { ModelFrame } from '@/core/units/length-unit';
import { Field, QuietButton } from '../../controls';
import { useCheckedForm } from '../../forms/use-checked-form';
import type { LookSession } from './look-session';

interface OwnModelProps {
  session: LookSession;
  revisionId: string;
  frame: ModelFrame | undefined;
}

/** Publishes what is ticked as a model of its own; one stays here, for the next part or the rest. */
export function OwnModel({ session, revisionId, frame }: OwnModelProps) {
  const [sent, setSent] = useState<string | null>(null);
  const { form, formProps, field } = useCheckedForm<{ name: string }>(
    async () => (await import('@/core/forms/name-schema')).nameSchema,
    {},
    async ({ name }) => {
      if (!(await session.publishPart(revisionId, name.trim(), frame))) return;
      setSent(name.trim());
      form.reset();
    },
  );
  const busy = useStore(session.store, (state) => state.busy);
  return (
    <Box asChild borderTopWidth="1px" borderColor="seam" px="4" py="3" fontSize="sm">
      <details>
        <summary>Publish what is ticked as a model of its own</summary>
        <Flex as="form" gap="2" align="end" mt="2" {...formProps}>
          <Box flex="1">
            <Field label="Name of the new model" placeholder="Furniture" maxLength={120} {...field('name')} />
          </Box>
          <QuietButton type="submit" disabled={busy}>
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
