'use client';
import { elementCount } from '../../words';
import { Text } from '@chakra-ui/react';
import { describeWhere } from '@/core/elements/describe-set';
import { countMember, memberModel, type OptionMember } from '@/core/options/option-set';
import type { ModelSummary } from '@/core/project/models';
import { useContents } from './use-contents';

/** What belongs to an option, in words, and whether the newest revision still has it. */
export function MemberWords({ member, models }: { member: OptionMember; models: ModelSummary[] }) {
  const model = models.find(({ id }) => id === memberModel(member));
  const isWhole = member.length === 1;
  const index = useContents(isWhole ? undefined : model);
  const count = index && countMember(member, index);
  const name = model?.name ?? 'a model that is gone';
  return (
    <Text as="li" fontSize="sm" color="softInk">
      {describeWhere(member, { model: () => name })}
      {count ? ` (${elementCount(count)})` : null}
      {count === 0 ? (
        <Text as="span" color="ochre" display="block">
          The newest revision of {name} has nothing of this name, so nothing of it shows. Change it, or look whether the
          name changed.
        </Text>
      ) : null}
    </Text>
  );
}
