'use client';
import { Box, Flex, Heading, Stack, Text, Textarea } from '@chakra-ui/react';
import { useState } from 'react';
import { SUITABILITIES, SUITABILITY_WORDS } from '@/core/project/approval';
import { api, messageOf } from '../api';
import { Choice } from '../choice';
import { useAssignees } from '../comments/use-assignees';
import { Card, Field, PrimaryButton, QuietButton, Trouble } from '../controls';
import { Tick } from '../tick';

/** A revision that can be put up. */
export interface AskableRevision {
  id: string;
  /** Of the model, with its code. */
  name: string;
}

interface AskForApprovalProps {
  projectId: string;
  revisions: readonly AskableRevision[];
  onAsked: () => void;
  onCancel: () => void;
}

const NONE = '';

/** Puts a revision up for approval: which one, for what, by whom, until when. */
export function AskForApproval({ projectId, revisions, onAsked, onCancel }: AskForApprovalProps) {
  const people = useAssignees(projectId, true);
  const [revisionId, setRevision] = useState(revisions[0]?.id ?? '');
  const [suitability, setSuitability] = useState(NONE);
  const [question, setQuestion] = useState('');
  const [dueOn, setDueOn] = useState('');
  const [members, setMembers] = useState<ReadonlySet<string>>(new Set());
  const [addresses, setAddresses] = useState('');
  const [trouble, setTrouble] = useState<string | null>(null);
  const [isBusy, setBusy] = useState(false);
  const others = addresses.split(/[\s,;]+/).filter(Boolean);
  const ask = async () => {
    setBusy(true);
    try {
      await api.post(`/api/projects/${projectId}/approvals`, {
        revisionId,
        suitability: suitability || null,
        question,
        dueOn: dueOn || null,
        approvers: [...[...members].map((id) => ({ id })), ...others.map((email) => ({ email }))],
      });
      onAsked();
    } catch (error) {
      setTrouble(messageOf(error));
      setBusy(false);
    }
  };
  return (
    <Card as="section" aria-label="Put up a revision" p="5" mb="5" maxW="940px">
      <Heading as="h2" fontSize="lg" mb="3">
        Put up a revision
      </Heading>
      <Stack gap="4">
        <Flex gap="4" wrap="wrap">
          <Choice
            label="Revision"
            value={revisionId}
            options={revisions.map(({ id, name }) => [id, name] as const)}
            onChoose={setRevision}
          />
          <Choice
            label="For what (ISO 19650)"
            value={suitability}
            options={[
              [NONE, 'No code'],
              ...SUITABILITIES.map((code) => [code, `${code}, ${SUITABILITY_WORDS[code]}`] as const),
            ]}
            onChoose={setSuitability}
          />
          <Box minW="160px">
            <Field label="By which day" type="date" value={dueOn} onChange={(event) => setDueOn(event.target.value)} />
          </Box>
        </Flex>
        <Box>
          <Text asChild fontWeight="bold" fontSize="sm" mb="1">
            <label htmlFor="approval-question">What is asked</label>
          </Text>
          <Textarea
            id="approval-question"
            rows={2}
            maxLength={1000}
            dir="auto"
            borderColor="seam"
            value={question}
            onChange={(event) => setQuestion(event.target.value)}
          />
        </Box>
        <Box role="group" aria-label="Members who are asked">
          <Text fontWeight="bold" fontSize="sm" mb="1">
            Who is asked
          </Text>
          <Flex gap="4" wrap="wrap">
            {people.map(({ id, name }) => (
              <Tick
                key={id}
                checked={members.has(id)}
                onTick={(isAsked) => {
                  const next = new Set(members);
                  if (isAsked) next.add(id);
                  else next.delete(id);
                  setMembers(next);
                }}
              >
                {name}
              </Tick>
            ))}
          </Flex>
        </Box>
        <Field
          label="Others, by mail address"
          placeholder="client@firm.example"
          hint="They get a link and need no account. Several are put apart by commas."
          value={addresses}
          onChange={(event) => setAddresses(event.target.value)}
        />
        <Trouble text={trouble} />
        <Flex gap="3" justify="end">
          <QuietButton onClick={onCancel}>Cancel</QuietButton>
          <PrimaryButton
            loading={isBusy}
            disabled={!revisionId || members.size + others.length === 0}
            onClick={() => void ask()}
          >
            Ask
          </PrimaryButton>
        </Flex>
      </Stack>
    </Card>
  );
}
