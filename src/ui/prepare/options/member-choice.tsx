'use client';
import { Box, Flex } from '@chakra-ui/react';
import { X } from 'lucide-react';
import { memberModel, type OptionMember } from '@/core/options/option-set';
import type { ModelSummary } from '@/core/project/models';
import { BRANCH_COLUMNS, branchesBy, type BranchColumn } from '@/core/elements/branches';
import { Choice } from '../../choice';
import { IconButton } from '../../controls';
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
  const modelId = memberModel(member);
  const part = member.find((condition) => condition.is !== 'model');
  const column = part && isColumn(part.is) ? part.is : null;
  const chosen = part && 'value' in part ? part.value : '';
  const index = useContents(column ? models.find(({ id }) => id === modelId) : undefined);
  const values = index && column ? branchesBy(index, column).map(({ value }) => value) : [];
  const options = column && !values.includes(chosen) ? [chosen, ...values] : values;
  const change = (model: string, by: BranchColumn | null, value: string) =>
    onChange([{ is: 'model', value: model }, ...(by ? [{ is: by, value }] : [])]);
  return (
    <Flex gap="2" align="end" wrap="wrap">
      <Choice
        label="Model"
        value={modelId}
        options={models.map(({ id, name }) => [id, name])}
        onChoose={(model) => change(model, column, '')}
      />
      <Choice
        label="Of it"
        value={column ?? WHOLE}
        options={BY}
        onChoose={(by) => change(modelId, isColumn(by) ? by : null, '')}
      />
      {column ? (
        <Choice
          label="Which?"
          value={chosen}
          options={options.map((value) => [value, value || '—'])}
          onChoose={(value) => change(modelId, column, value)}
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

function isColumn(is: string): is is BranchColumn {
  return BRANCH_COLUMNS.some((column) => column === is);
}
