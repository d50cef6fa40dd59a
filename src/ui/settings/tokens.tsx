'use client';
import { Box, Code, Flex, Heading, Link, Stack, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { TokenSummary } from '@/core/project/access-token';
import type { TokenRight } from '@/core/rights';
import { api, messageOf } from '../api';
import { Choice } from '../choice';
import { Card, Field, PrimaryButton, QuietButton, Trouble } from '../controls';
import { useCheckedForm } from '../forms/use-checked-form';
import { Time } from '../time';

const RIGHTS: Record<TokenRight, string> = {
  publish: 'read and publish',
  comment: 'read, comment and answer',
  read: 'only read',
};

/** Personal access tokens: make one for a program, see it once, withdraw it. */
export function Tokens({ initial }: { initial: TokenSummary[] }) {
  const [tokens, setTokens] = useState(initial);
  const [fresh, setFresh] = useState<string | null>(null);
  const [copied, setCopied] = useState(false);
  const { form, formProps, field, trouble, setTrouble } = useCheckedForm<{ label: string; right: TokenRight }>(
    async () => (await import('@/core/forms/token-schema')).tokenSchema,
    { right: 'publish' },
    async (draft) => {
      setCopied(false);
      setFresh((await api.post<{ token: string }>('/api/tokens', draft)).token);
      form.resetField('label');
      await reload();
    },
  );
  const fail = (error: unknown) => setTrouble(messageOf(error));
  const reload = () => api.get<TokenSummary[]>('/api/tokens').then(setTokens, fail);

  return (
    <Card as="section" p="5" aria-label="Access tokens">
      <Heading as="h2" fontSize="lg">
        Access tokens
      </Heading>
      <Text color="softInk" fontSize="sm" mb="4">
        With a token a program publishes in your name: a script, a folder that is watched, or anything that speaks the
        interface described in{' '}
        <Link href="/api/openapi.json" textDecoration="underline" color="indigo">
          openapi.json
        </Link>
        .
      </Text>
      <form {...formProps}>
        <Flex gap="3" wrap="wrap" align="end">
          <Box flex="2" minW="200px">
            <Field label="What is it for?" maxLength={80} placeholder="Nightly export" {...field('label')} />
          </Box>
          <Choice
            label="It may"
            value={form.watch('right')}
            onChoose={(value) => form.setValue('right', value as TokenRight)}
            options={Object.entries(RIGHTS)}
          />
          <PrimaryButton type="submit">Make token</PrimaryButton>
        </Flex>
      </form>
      {fresh ? (
        <Box mt="4" p="4" bg="felt" borderRadius="lg" role="status">
          <Text fontSize="sm" mb="2">
            Shown only now. Whoever has it can publish in your name; keep it like a password.
          </Text>
          <Flex gap="3" align="center" wrap="wrap">
            <Code bg="card" px="3" py="2" wordBreak="break-all" data-testid="fresh-token">
              {fresh}
            </Code>
            <QuietButton
              size="sm"
              onClick={() =>
                navigator.clipboard.writeText(fresh).then(
                  () => setCopied(true),
                  () => setTrouble('The browser did not allow copying. Select the token and copy it by hand.'),
                )
              }
            >
              {copied ? 'Copied' : 'Copy'}
            </QuietButton>
          </Flex>
          <Text fontSize="sm" mt="3" mb="1">
            For example:
          </Text>
          <Code bg="card" px="3" py="2" display="block" whiteSpace="pre-wrap" wordBreak="break-word">
            {`YURTA_TOKEN=… ./yurta publish house.ifc --server ${location.origin} --project ID --note "Stair moved"`}
          </Code>
        </Box>
      ) : null}
      <Box mt="3">
        <Trouble text={trouble} />
      </Box>
      <Stack as="ul" listStyleType="none" gap="0" mt="4" aria-label="Tokens that were made">
        {tokens.map((token) => (
          <Flex as="li" key={token.id} borderTopWidth="1px" borderColor="seam" py="3" gap="3" align="center">
            <Box flex="1" minW="0">
              <Text fontWeight="bold">{token.label}</Text>
              <Text fontSize="sm" color="softInk">
                {RIGHTS[token.right]} · <Life token={token} /> ·{' '}
                {token.usedAt ? (
                  <>
                    last used <Time at={token.usedAt} />
                  </>
                ) : (
                  'never used'
                )}
              </Text>
            </Box>
            {token.state === 'open' ? (
              <QuietButton
                size="sm"
                aria-label={`Withdraw ${token.label}`}
                onClick={() => void api.delete(`/api/tokens/${token.id}`).then(reload, fail)}
              >
                Withdraw
              </QuietButton>
            ) : null}
          </Flex>
        ))}
      </Stack>
    </Card>
  );
}

function Life({ token: { state, expiresAt } }: { token: TokenSummary }) {
  if (state === 'revoked') return 'withdrawn';
  return (
    <>
      {state === 'expired' ? 'expired' : 'until'} <Time at={expiresAt} show="day" />
    </>
  );
}
