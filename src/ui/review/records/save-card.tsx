'use client';
import { Button, Flex, Input } from '@chakra-ui/react';
import { Plus } from 'lucide-react';
import { useState } from 'react';
import { FieldError, PrimaryButton } from '../../controls';
import { useCheckedForm } from '../../forms/use-checked-form';
import { Tick } from '../../tick';
import { useSession } from '../session-context';

/** Saves what is seen now as a viewpoint at the end. */
export function SaveCard() {
  const session = useSession();
  const [open, setOpen] = useState(false);
  const [isPrivate, setPrivate] = useState(false);
  const { form, formProps, field, isSubmitting } = useCheckedForm<{ name: string }>(
    async () => (await import('@/core/forms/name-schema')).nameSchema,
    {},
    async ({ name }) => {
      if (!(await session.records.saveViewpoint(name.trim(), !isPrivate))) return;
      form.reset();
      setOpen(false);
    },
  );
  const { error, ...name } = field('name');
  return (
    <Flex
      w={{ base: '130px', md: '160px' }}
      flexShrink="0"
      borderWidth="2px"
      borderStyle="dashed"
      borderColor="seam"
      borderRadius="12px"
      align="center"
      justify="center"
      p="1.5"
    >
      {open ? (
        <form {...formProps}>
          <Input
            autoFocus
            aria-label="Name of the viewpoint"
            aria-invalid={error ? true : undefined}
            placeholder="Name"
            size="xs"
            h="32px"
            maxLength={120}
            bg="wool"
            {...name}
            onKeyDown={(event) => event.key === 'Escape' && setOpen(false)}
          />
          <FieldError error={error} />
          <Tick size="sm" checked={isPrivate} onTick={setPrivate}>
            Only for me
          </Tick>
          <PrimaryButton type="submit" size="xs" minH="34px" w="full" loading={isSubmitting}>
            Save
          </PrimaryButton>
        </form>
      ) : (
        <Button
          variant="ghost"
          h="full"
          w="full"
          flexDirection={{ base: 'row', md: 'column' }}
          color="softInk"
          onClick={() => setOpen(true)}
        >
          <Plus size={20} aria-hidden />
          Save this view
        </Button>
      )}
    </Flex>
  );
}
