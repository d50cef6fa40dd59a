'use client';
import { Box, Flex, Stack, Text } from '@chakra-ui/react';
import { X } from 'lucide-react';
import { useState } from 'react';
import type { OptionMember, OptionSet, OptionSetDraft } from '@/core/options/option-set';
import type { ProjectDetail } from '@/core/project/models';
import { api, messageOf } from '../../api';
import { Field, IconButton, PrimaryButton, QuietButton, Trouble } from '../../controls';
import { MemberChoice } from './member-choice';

interface OptionsEditorProps {
  project: ProjectDetail;
  /** Address of the project's options. */
  base: string;
  /** Null makes a new one. */
  set: OptionSet | null;
  onDone: () => void;
  onLeave: () => void;
}

/** Names a place and says what belongs to each of its options. */
export function OptionsEditor({ project, base, set, onDone, onLeave }: OptionsEditorProps) {
  const whole = (index: number): OptionMember => [
    { is: 'model', value: (project.models[index] ?? project.models[0]!).id },
  ];
  const [draft, setDraft] = useState<OptionSetDraft>(
    () =>
      set ?? {
        name: '',
        options: [
          { name: 'A', members: [whole(0)] },
          { name: 'B', members: [whole(1)] },
        ],
      },
  );
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const change = (at: number, part: Partial<OptionSetDraft['options'][number]>) =>
    setDraft({ ...draft, options: draft.options.map((option, i) => (i === at ? { ...option, ...part } : option)) });

  const save = async () => {
    setBusy(true);
    setTrouble(null);
    const { name, options } = draft;
    const body = { name: name.trim(), options: options.map(({ name, members }) => ({ name: name.trim(), members })) };
    try {
      await (set ? api.patch(`${base}/${set.id}`, body) : api.post(base, body));
      onDone();
    } catch (error) {
      setTrouble(messageOf(error));
    } finally {
      setBusy(false);
    }
  };

  return (
    <Stack gap="4" mt="3" borderTopWidth="1px" borderColor="seam" pt="4">
      <Field
        label="Which place?"
        placeholder="Hall roof"
        value={draft.name}
        maxLength={80}
        onChange={(event) => setDraft({ ...draft, name: event.target.value })}
      />
      {draft.options.map((option, at) => (
        <Box key={at} role="group" aria-label={`Option ${at + 1}`} borderLeftWidth="3px" borderColor="seam" pl="3">
          <Flex align="end" gap="1">
            <Box flex="1">
              <Field
                label={`Option ${at + 1}`}
                value={option.name}
                maxLength={80}
                onChange={(event) => change(at, { name: event.target.value })}
              />
            </Box>
            {draft.options.length > 2 ? (
              <IconButton
                label={`Remove option ${at + 1}`}
                onClick={() => setDraft({ ...draft, options: draft.options.filter((_, i) => i !== at) })}
              >
                <X size={18} aria-hidden />
              </IconButton>
            ) : null}
          </Flex>
          <Text fontSize="sm" fontWeight="bold" mt="3">
            It consists of
          </Text>
          <Stack gap="3" mt="1">
            {option.members.map((member, i) => (
              <MemberChoice
                key={i}
                models={project.models}
                member={member}
                onChange={(next) => change(at, { members: option.members.map((old, j) => (j === i ? next : old)) })}
                onRemove={() => change(at, { members: option.members.filter((_, j) => j !== i) })}
              />
            ))}
            <QuietButton
              size="sm"
              alignSelf="start"
              onClick={() => change(at, { members: [...option.members, whole(0)] })}
            >
              Add a model or a part
            </QuietButton>
          </Stack>
        </Box>
      ))}
      <QuietButton
        size="sm"
        alignSelf="start"
        onClick={() =>
          setDraft({
            ...draft,
            options: [...draft.options, { name: String.fromCharCode(65 + draft.options.length), members: [whole(0)] }],
          })
        }
      >
        One more option
      </QuietButton>
      <Trouble text={trouble} />
      <Flex gap="2">
        <PrimaryButton loading={busy} onClick={() => void save()}>
          Save
        </PrimaryButton>
        <QuietButton onClick={onLeave}>Cancel</QuietButton>
      </Flex>
    </Stack>
  );
}
