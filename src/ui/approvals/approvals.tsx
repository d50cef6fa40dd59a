'use client';
import { Box, Flex, Heading, Stack, Text, Textarea } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useCallback, useState } from 'react';
import {
  ANSWER_WORDS,
  APPROVAL_ANSWERS,
  APPROVAL_STATE_WORDS,
  SUITABILITY_WORDS,
  type Approval,
  type ApprovalAnswer,
  type Approver,
} from '@/core/project/approval';
import { api, messageOf } from '../api';
import { Due, today as dayOf } from '../comments/due';
import { Card, PrimaryButton, QuietButton, Trouble } from '../controls';
import { FollowUpHead } from '../follow-up/follow-up-head';
import { useLiveProject } from '../live-page';
import { Time } from '../time';
import { AskForApproval, type AskableRevision } from './ask-for-approval';

interface ApprovalsProps {
  projectId: string;
  initial: Approval[];
  /** What can be put up; empty for those who may not. */
  revisions: readonly AskableRevision[];
  mayAsk: boolean;
  isMember: boolean;
}

/** Revisions that are put up for approval, who is asked, and what they answered. */
export function Approvals({ projectId, initial, revisions, mayAsk, isMember }: ApprovalsProps) {
  const [approvals, setApprovals] = useState(initial);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [isAsking, setAsking] = useState(false);
  const base = `/api/projects/${projectId}/approvals`;
  const fetchAnew = useCallback(() => api.get<Approval[]>(base).then(setApprovals), [base]);
  const reload = useLiveProject(projectId, 'approvals-changed', fetchAnew, setTrouble);
  const act = (work: Promise<unknown>) =>
    work.then(
      () => (setTrouble(null), reload()),
      (error: unknown) => setTrouble(messageOf(error)),
    );
  return (
    <Box as="main" maxW="1180px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
      <FollowUpHead
        projectId={projectId}
        page="approvals"
        title="Approvals"
        isMember={isMember}
        lead={approvals.length === 0 ? 'Nothing is put up for approval.' : undefined}
      >
        {mayAsk && !isAsking ? (
          <PrimaryButton disabled={revisions.length === 0} onClick={() => setAsking(true)}>
            Put up a revision
          </PrimaryButton>
        ) : null}
      </FollowUpHead>
      <Trouble text={trouble} />
      {isAsking ? (
        <AskForApproval
          projectId={projectId}
          revisions={revisions}
          onAsked={() => (setAsking(false), void reload())}
          onCancel={() => setAsking(false)}
        />
      ) : null}
      <Stack as="ul" listStyleType="none" gap="4" maxW="940px" aria-label="Approvals">
        {approvals.map((approval) => (
          <OneApproval
            key={approval.id}
            approval={approval}
            mayEnd={mayAsk}
            isMember={isMember}
            onAnswer={(answer, reasons) => act(api.put(`${base}/${approval.id}`, { answer, reasons }))}
            onEnd={() => act(api.delete(`${base}/${approval.id}`))}
          />
        ))}
      </Stack>
    </Box>
  );
}

interface OneApprovalProps {
  approval: Approval;
  mayEnd: boolean;
  isMember: boolean;
  onAnswer: (answer: ApprovalAnswer, reasons: string) => Promise<void>;
  onEnd: () => void;
}

function OneApproval({ approval, mayEnd, isMember, onAnswer, onEnd }: OneApprovalProps) {
  const { projectId, revisionId, revision, note, suitability, question, dueOn, askedBy, createdAt, state, approvers } = approval; // prettier-ignore
  const [today] = useState(dayOf);
  const you = approvers.find(({ isYou }) => isYou);
  const isOpen = state !== 'ended';
  return (
    <Card as="li" p="5">
      <Flex gap="3" align="start" wrap="wrap">
        <Box flex="1" minW="240px">
          <Heading as="h2" fontSize="xl">
            {revision}
          </Heading>
          <Text color="softInk" fontSize="sm">
            {suitability ? `${suitability}, ${SUITABILITY_WORDS[suitability]} · ` : ''}
            put up by {askedBy}, <Time at={createdAt} />
            {dueOn ? ' · ' : ''}
            <Due dueOn={dueOn} status={state === 'waiting' ? 'open' : 'closed'} today={today} />
          </Text>
          {note ? <Text mt="1">{note}</Text> : null}
          {question ? (
            <Text mt="1" fontWeight="bold" dir="auto">
              {question}
            </Text>
          ) : null}
        </Box>
        <Text
          fontWeight="bold"
          px="3"
          py="1"
          borderRadius="pill"
          borderWidth="2px"
          borderColor={state === 'resubmit' ? 'madder' : state === 'waiting' ? 'seam' : 'ink'}
          color={state === 'resubmit' ? 'madder' : 'ink'}
        >
          {APPROVAL_STATE_WORDS[state]}
        </Text>
      </Flex>
      <Stack as="ul" listStyleType="none" gap="2" mt="4" aria-label={`Answers on ${revision}`}>
        {approvers.map((one) => (
          <Answer key={one.id} approver={one} />
        ))}
      </Stack>
      <Flex gap="3" mt="4" wrap="wrap" align="center">
        <QuietButton asChild>
          <NextLink href={`/projects/${projectId}/review${isMember ? `?revision=${revisionId}` : ''}`}>
            Look at it
          </NextLink>
        </QuietButton>
        {mayEnd && isOpen ? <QuietButton onClick={onEnd}>Take it back</QuietButton> : null}
      </Flex>
      {you && isOpen ? <YourAnswer key={you.answeredAt} you={you} revision={revision} onAnswer={onAnswer} /> : null}
    </Card>
  );
}

function Answer({ approver: { name, isYou, answer, reasons, answeredAt } }: { approver: Approver }) {
  return (
    <Box as="li" borderLeftWidth="3px" borderColor={answer === 'resubmit' ? 'madder' : answer ? 'ink' : 'seam'} pl="3">
      <Text>
        <b>
          {name}
          {isYou ? ' (you)' : ''}
        </b>
        : {answer ? ANSWER_WORDS[answer] : 'no answer yet'}
        {answeredAt ? (
          <Text as="span" color="softInk" fontSize="sm">
            {' '}
            <Time at={answeredAt} />
          </Text>
        ) : null}
      </Text>
      {reasons ? (
        <Text fontSize="sm" whiteSpace="pre-wrap" dir="auto">
          {reasons}
        </Text>
      ) : null}
    </Box>
  );
}

function YourAnswer({
  you,
  revision,
  onAnswer,
}: {
  you: Approver;
  revision: string;
  onAnswer: OneApprovalProps['onAnswer'];
}) {
  const [isOpen, setOpen] = useState(you.answer === null);
  const [answer, setAnswer] = useState<ApprovalAnswer | null>(you.answer);
  const [reasons, setReasons] = useState(you.reasons);
  const [isBusy, setBusy] = useState(false);
  if (!isOpen)
    return (
      <QuietButton mt="3" onClick={() => setOpen(true)}>
        Change your answer
      </QuietButton>
    );
  const needsReasons = answer !== null && answer !== 'approved';
  return (
    <Box role="group" aria-label={`Your answer on ${revision}`} mt="4" pt="4" borderTopWidth="1px" borderColor="seam">
      <Flex gap="2" wrap="wrap">
        {APPROVAL_ANSWERS.map((one) => (
          <QuietButton key={one} aria-pressed={answer === one} onClick={() => setAnswer(one)}>
            {ANSWER_WORDS[one]}
          </QuietButton>
        ))}
      </Flex>
      <Textarea
        aria-label="Your reasons"
        placeholder={needsReasons ? 'What is to be changed' : 'Your reasons, if you like'}
        mt="3"
        rows={3}
        dir="auto"
        maxLength={4000}
        borderColor="seam"
        value={reasons}
        onChange={(event) => setReasons(event.target.value)}
      />
      <PrimaryButton
        mt="3"
        loading={isBusy}
        disabled={answer === null || (needsReasons && !reasons.trim())}
        onClick={() => {
          setBusy(true);
          void onAnswer(answer!, reasons).finally(() => setBusy(false));
        }}
      >
        Answer
      </PrimaryButton>
    </Box>
  );
}
