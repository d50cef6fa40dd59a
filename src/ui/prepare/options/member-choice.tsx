'use client';
import { Box, Flex } from '@chakra-ui/react';
import { X } from 'lucide-react';
import type { OptionMember } from '@/core/options/option-set';
import type { ModelSummary } from '@/core/project/models';
import { revealBranches } from '@/core/reveal/reveal-index';
import type { RevealColumn } from '@/core/reveal/reveal-rule';
import { Choice } from '../../choice';
import { IconButton } from '../../pieces';
import { useContents } from './use-contents';

const WHOLE = 'whole';
const BY: [string, string][] = [
  [WHOLE, 'all of it'],
  ['category', 'a category'],
  ['storey', 'a storey'],
  ['material', 'a material'],
  ['system', 'a system'],
];

interface MemberChoiceProps {
  models: ModelSummary[];
  member: OptionMember;
  onChange: (member: OptionMember) => void;
  onRemove: () => void;
}

/** A model that belongs to an option, or which part of it does. */
export function MemberChoice({ models, member, onChange, onRemove }: MemberChoiceProps) {
  const index = useContents(member.part === null ? undefined : models.find(({ id }) => id === member.model));
  const { part } = member;
  const values = index && part ? revealBranches(index, part.column).map(({ value }) => value) : [];
  const options = part && !values.includes(part.value) ? [part.value, ...values] : values;
  return (
    <Flex gap="2" align="end" wrap="wrap">
      <Choice
        label="Model"
        value={member.model}
        options={models.map(({ id, name }) => [id, name])}
        onChange={(model) => onChange({ model, part: part && { ...part, value: '' } })}
      />
      <Choice
        label="Of it"
        value={part?.column ?? WHOLE}
        options={BY}
        onChange={(by) =>
          onChange({ ...member, part: by === WHOLE ? null : { column: by as RevealColumn, value: '' } })
        }
      />
      {part ? (
        <Choice
          label="Which?"
          value={part.value}
          options={options.map((value) => [value, value || '—'])}
          onChange={(value) => onChange({ ...member, part: { ...part, value } })}
        />
      ) : null}
      <Box>
        <IconButton label="Remove from the option" onClick={onRemove}>
          <X size={18} aria-hidden />
        </IconButton>
      </Box>
    </Flex>
  );
}
