'use client';
import { Box, Code, Flex, Heading, Link, Stack, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { TrackerSummary } from '@/core/exchange/tracker-summary';
import type { WebhookSummary } from '@/core/exchange/webhook';
import { ACTIVITY_KINDS, type ActivityKind } from '@/core/project/activity';
import { api, messageOf } from '../api';
import { Card, Field, PrimaryButton, QuietButton, Trouble } from '../controls';
import { FollowUpHead } from '../follow-up/follow-up-head';
import { Tick } from '../tick';
import { Time } from '../time';

const KIND_WORDS: Record<ActivityKind, string> = {
  published: 'a revision is published',
  withdrawn: 'a revision is withdrawn',
  said: 'something is said',
  answered: 'something is answered',
  changed: 'a comment is changed',
  decided: 'something is decided',
  confirmed: 'a decision is confirmed',
  'meeting-started': 'a meeting begins',
  'meeting-ended': 'a meeting ends',
  'approval-asked': 'a revision is put up for approval',
  'approval-answered': 'an approval is answered',
};

interface ProgramsProps {
  projectId: string;
  tracker: TrackerSummary | null;
  webhooks: WebhookSummary[];
}

/** Other programs that know of this project: an issue tracker, programs that are told, programs that ask. */
export function Programs({ projectId, tracker, webhooks }: ProgramsProps) {
  return (
    <Box as="main" maxW="1180px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
      <FollowUpHead projectId={projectId} page="programs" title="Other programs" />
      <Stack gap="5" maxW="860px">
        <Tracker base={`/api/projects/${projectId}/tracker`} initial={tracker} />
        <Webhooks base={`/api/projects/${projectId}/webhooks`} initial={webhooks} />
        <Card as="section" p="5" aria-label="Programs that ask">
          <Heading as="h2" fontSize="lg">
            Programs that ask
          </Heading>
          <Text color="softInk" fontSize="sm" mt="1">
            Topics, comments and viewpoints can be read and written through the open BCF-API 3.0 at{' '}
            <Code>/bcf/3.0</Code>, with an access token from{' '}
            <Link href="/settings" textDecoration="underline" color="indigo">
              your settings
            </Link>
            .
          </Text>
        </Card>
      </Stack>
    </Box>
  );
}

function Tracker({ base, initial }: { base: string; initial: TrackerSummary | null }) {
  const [tracker, setTracker] = useState(initial);
  const [url, setUrl] = useState('');
  const [token, setToken] = useState('');
  const [trouble, setTrouble] = useState<string | null>(null);
  const [isBusy, setBusy] = useState(false);
  const act = async (work: Promise<unknown>) => {
    setBusy(true);
    try {
      await work;
      setTracker((await api.get<{ tracker: TrackerSummary | null }>(base)).tracker);
      setTrouble(null);
    } catch (error) {
      setTrouble(messageOf(error));
    }
    setBusy(false);
  };
  return (
    <Card as="section" p="5" aria-label="Issue tracker">
      <Heading as="h2" fontSize="lg">
        Issue tracker
      </Heading>
      <Text color="softInk" fontSize="sm" mb="4">
        Comments and actions go there, and what is changed there comes back, within seconds.
      </Text>
      <Trouble text={trouble} />
      {tracker ? (
        <Flex gap="3" align="center" wrap="wrap">
          <Box flex="1" minW="240px">
            <Link href={tracker.url} target="_blank" rel="noreferrer" fontWeight="bold" wordBreak="break-all">
              {tracker.url}
            </Link>
            <Text fontSize="sm" color={tracker.trouble ? 'madder' : 'softInk'} role="status">
              {tracker.trouble ? `${tracker.trouble} It is tried again by itself. ` : ''}
              {tracker.issues} {tracker.issues === 1 ? 'issue' : 'issues'}
              {tracker.conflicts > 0 ? `, ${tracker.conflicts} in conflict` : ''}
              {tracker.syncedAt ? (
                <>
                  , the same at <Time at={tracker.syncedAt} show="time" />
                </>
              ) : (
                ', not the same yet'
              )}
            </Text>
          </Box>
          <QuietButton loading={isBusy} onClick={() => void act(Promise.resolve())}>
            Look again
          </QuietButton>
          <QuietButton disabled={isBusy} onClick={() => void act(api.delete(base))}>
            Let go
          </QuietButton>
        </Flex>
      ) : (
        <Flex gap="3" wrap="wrap" align="end">
          <Box flex="2" minW="220px">
            <Field label="Its address" type="url" value={url} onChange={(event) => setUrl(event.target.value)} />
          </Box>
          <Box flex="1" minW="160px">
            <Field
              label="Its token"
              type="password"
              autoComplete="off"
              value={token}
              onChange={(event) => setToken(event.target.value)}
            />
          </Box>
          <PrimaryButton
            loading={isBusy}
            disabled={!url || !token}
            onClick={() => void act(api.put(base, { url, token }))}
          >
            Connect
          </PrimaryButton>
        </Flex>
      )}
    </Card>
  );
}

function Webhooks({ base, initial }: { base: string; initial: WebhookSummary[] }) {
  const [hooks, setHooks] = useState(initial);
  const [url, setUrl] = useState('');
  const [kinds, setKinds] = useState<ReadonlySet<ActivityKind>>(new Set(ACTIVITY_KINDS));
  const [secret, setSecret] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const reload = () => api.get<WebhookSummary[]>(base).then(setHooks);
  const add = async () => {
    try {
      const made = await api.post<{ secret: string }>(base, { url, kinds: [...kinds] });
      setSecret(made.secret);
      setUrl('');
      setTrouble(null);
      await reload();
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  const remove = (id: string) =>
    api
      .delete(`${base}/${id}`)
      .then(reload)
      .catch((error: unknown) => setTrouble(messageOf(error)));
  return (
    <Card as="section" p="5" aria-label="Programs that are told">
      <Heading as="h2" fontSize="lg">
        Programs that are told
      </Heading>
      <Text color="softInk" fontSize="sm" mb="4">
        Each gets a signed request (Standard Webhooks) for what is done here, and again for three days where it does not
        answer.
      </Text>
      <Stack as="ul" listStyleType="none" gap="2" mb="4">
        {hooks.map((hook) => (
          <Flex
            as="li"
            key={hook.id}
            gap="3"
            align="center"
            borderWidth="1px"
            borderColor="seam"
            borderRadius="12px"
            p="3"
          >
            <Box flex="1" minW="0">
              <Text fontWeight="bold" truncate title={hook.url}>
                {hook.url}
              </Text>
              <Text fontSize="sm" color={hook.last?.trouble ? 'madder' : 'softInk'}>
                {hook.kinds.length === ACTIVITY_KINDS.length ? 'everything' : `${hook.kinds.length} kinds`}
                {hook.last ? ` · ${hook.last.trouble || 'last told well'}` : ' · nothing told yet'}
                {hook.waiting > 0 ? ` · ${hook.waiting} waiting` : ''}
              </Text>
            </Box>
            <QuietButton aria-label={`Look again at ${hook.url}`} onClick={() => void reload()}>
              Look again
            </QuietButton>
            <QuietButton aria-label={`Remove ${hook.url}`} onClick={() => void remove(hook.id)}>
              Remove
            </QuietButton>
          </Flex>
        ))}
      </Stack>
      {secret ? (
        <Box role="status" bg="felt" borderRadius="12px" p="3" mb="4">
          <Text fontSize="sm">With this secret the program checks the signature. It is shown this once:</Text>
          <Code wordBreak="break-all">{secret}</Code>
        </Box>
      ) : null}
      <Field label="Address that is told" type="url" value={url} onChange={(event) => setUrl(event.target.value)} />
      <Box role="group" aria-label="When it is told" mt="3" css={{ columns: '240px' }}>
        {ACTIVITY_KINDS.map((kind) => (
          <Tick
            key={kind}
            checked={kinds.has(kind)}
            onTick={(isTold) => {
              const next = new Set(kinds);
              if (isTold) next.add(kind);
              else next.delete(kind);
              setKinds(next);
            }}
            w="full"
          >
            {KIND_WORDS[kind]}
          </Tick>
        ))}
      </Box>
      <Trouble text={trouble} />
      <PrimaryButton mt="3" disabled={!url || kinds.size === 0} onClick={() => void add()}>
        Add
      </PrimaryButton>
    </Card>
  );
}
