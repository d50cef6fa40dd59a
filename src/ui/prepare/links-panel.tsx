'use client';
import { Box, Flex, Heading, Stack, Text } from '@chakra-ui/react';
import { useCallback, useEffect, useState } from 'react';
import type { FreshLink, LinkSummary } from '@/core/project/share-link';
import type { ViewpointCard } from '@/core/project/viewpoint-card';
import type { LinkRight } from '@/core/rights';
import type { OptionChoice, OptionSet } from '@/core/options/option-set';
import { api, messageOf } from '../api';
import { Choice } from '../choice';
import { Card, Field, PrimaryButton, QuietButton, Trouble } from '../controls';
import { useCheckedForm } from '../forms/use-checked-form';
import { Time } from '../time';

/** As they are typed and chosen. */
interface LinkFields {
  label: string;
  right: LinkRight;
  sendTo: string;
  days: string;
  passphrase: string;
  viewpointId: string;
}

const RIGHT_WORDS: Record<LinkRight, string> = {
  comment: 'look and comment',
  look: 'only look',
  edit: 'look, comment and arrange viewpoints',
};
const RIGHT_CHOICES = Object.entries(RIGHT_WORDS);

/** Share links: make, show once as text and QR code, extend, withdraw. */
export function LinksPanel({ projectId, options }: { projectId: string; options: OptionSet[] }) {
  const [fixed, setFixed] = useState<OptionChoice>({});
  const [links, setLinks] = useState<LinkSummary[]>([]);
  const [viewpoints, setViewpoints] = useState<ViewpointCard[]>([]);
  const [fresh, setFresh] = useState<FreshLink | null>(null);
  const [copied, setCopied] = useState(false);
  const base = `/api/projects/${projectId}/links`;
  const { form, formProps, field, trouble, setTrouble } = useCheckedForm<LinkFields>(
    async () => (await import('@/core/forms/link-schema')).linkSchema,
    { right: 'comment', days: '30' },
    async (draft) => {
      setCopied(false);
      const { days, viewpointId, ...rest } = draft;
      setFresh(
        await api.post<FreshLink>(base, {
          ...rest,
          options: fixed,
          days: Number(days),
          viewpointId: viewpointId || null,
        }),
      );
      for (const name of ['label', 'passphrase', 'sendTo'] as const) form.resetField(name);
      reload();
    },
  );
  const fail = (error: unknown) => setTrouble(messageOf(error));
  const reload = useCallback(() => {
    api.get<LinkSummary[]>(base).then(setLinks, (error: unknown) => setTrouble(messageOf(error)));
  }, [base, setTrouble]);
  useEffect(reload, [reload]);
  useEffect(() => {
    api.get<ViewpointCard[]>(`/api/projects/${projectId}/viewpoints`).then(
      (cards) => setViewpoints(cards.filter(({ isShared }) => isShared)),
      (error: unknown) => setTrouble(messageOf(error)),
    );
  }, [projectId, setTrouble]);

  return (
    <Card as="section" id="links" p="5" aria-label="Links">
      <Heading as="h2" fontSize="lg" mb="3">
        Invite by link
      </Heading>
      <form {...formProps}>
        <Stack gap="3">
          <Field label="Whom is it for?" maxLength={80} placeholder="Library staff" {...field('label')} />
          <Choice label="They may" options={RIGHT_CHOICES} {...form.register('right')} />
          {options.map((set) => (
            <Choice
              key={set.id}
              label={set.name}
              value={fixed[set.id] ?? ''}
              options={[
                ['', 'they may switch'],
                ...set.options.map(({ id, name }): [string, string] => [id, `only ${name}`]),
              ]}
              onChoose={(option) => {
                const { [set.id]: _, ...others } = fixed;
                setFixed(option === '' ? others : { ...others, [set.id]: option });
              }}
            />
          ))}
          <Field
            label="Send it to"
            type="email"
            placeholder="nobody: I pass it on myself"
            maxLength={200}
            {...field('sendTo')}
          />
          <Flex gap="3">
            <Field label="Days open" inputMode="numeric" maxLength={3} {...field('days')} />
            <Field label="Passphrase" placeholder="none" maxLength={80} autoComplete="off" {...field('passphrase')} />
          </Flex>
          {viewpoints.length > 0 ? (
            <Choice
              label="Opens with"
              options={[['', 'the first viewpoint'], ...viewpoints.map(({ id, name }): [string, string] => [id, name])]}
              {...form.register('viewpointId')}
            />
          ) : null}
          <PrimaryButton type="submit" alignSelf="start">
            Make link
          </PrimaryButton>
        </Stack>
      </form>
      {fresh ? (
        <Box mt="4" p="4" bg="felt" borderRadius="lg" role="status">
          <Text fontSize="sm" mb="2">
            {fresh.sentTo ? `Sent to ${fresh.sentTo}. ` : ''}Shown only now. Whoever has it can come in; it always opens
            the newest revision.
          </Text>
          <Flex gap="4" align="start">
            <Box
              w="112px"
              flexShrink="0"
              borderRadius="md"
              overflow="hidden"
              role="img"
              aria-label="QR code of the link"
              dangerouslySetInnerHTML={{ __html: fresh.qr }}
            />
            <Stack gap="2" minW="0">
              <Text fontSize="sm" wordBreak="break-all" data-testid="fresh-link">
                {fresh.url}
              </Text>
              <QuietButton
                size="sm"
                alignSelf="start"
                onClick={() =>
                  navigator.clipboard.writeText(fresh.url).then(
                    () => setCopied(true),
                    () => setTrouble('The browser did not allow copying. Select the address and copy it by hand.'),
                  )
                }
              >
                {copied ? 'Copied' : 'Copy'}
              </QuietButton>
            </Stack>
          </Flex>
        </Box>
      ) : null}
      <Box mt="3">
        <Trouble text={trouble} />
      </Box>
      <Stack as="ul" listStyleType="none" gap="3" mt="4" aria-label="Links that were made">
        {links.map((link) => (
          <Box as="li" key={link.id} borderTopWidth="1px" borderColor="seam" pt="3">
            <Text fontWeight="bold">{link.label}</Text>
            <Text fontSize="sm" color="softInk" mb="1">
              {RIGHT_WORDS[link.right]}
              {link.hasPassphrase ? ', passphrase' : ''}
              {options.flatMap((set) =>
                set.options
                  .filter(({ id }) => link.options[set.id] === id)
                  .map(({ name }) => `, ${set.name}: only ${name}`),
              )}{' '}
              ·{' '}
              {link.state === 'revoked' ? (
                'withdrawn'
              ) : (
                <>
                  {link.state === 'expired' ? 'expired' : 'until'} <Time at={link.expiresAt} show="day" />
                </>
              )}
              {link.sentTo ? `, sent to ${link.sentTo}` : ''}
            </Text>
            {link.state === 'ends' ? (
              <Text fontSize="sm" color="ochre" fontWeight="bold" mb="1">
                Ends soon. One press gives it thirty more days.
              </Text>
            ) : null}
            <Openings openings={link.openings} />
            {link.state === 'revoked' ? null : (
              <Flex gap="2">
                <QuietButton
                  size="sm"
                  onClick={() => api.patch(`${base}/${link.id}`, { action: 'extend' }).then(reload, fail)}
                >
                  30 more days
                </QuietButton>
                <QuietButton
                  size="sm"
                  onClick={() => api.patch(`${base}/${link.id}`, { action: 'revoke' }).then(reload, fail)}
                >
                  Withdraw
                </QuietButton>
              </Flex>
            )}
          </Box>
        ))}
      </Stack>
    </Card>
  );
}

/** Who came by a link, and when. */
function Openings({ openings }: { openings: LinkSummary['openings'] }) {
  const [isOpen, setOpen] = useState(false);
  const [last] = openings;
  if (!last)
    return (
      <Text fontSize="sm" color="softInk" mb="1">
        Nobody has come by it yet.
      </Text>
    );
  return (
    <Box mb="1" fontSize="sm">
      <Text>
        Last opened by {last.name}, <Time at={last.at} />
        {openings.length > 1 ? (
          <QuietButton size="xs" ml="2" minH="28px" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            {isOpen ? 'Fewer' : `${openings.length} times`}
          </QuietButton>
        ) : null}
      </Text>
      {isOpen ? (
        <Box as="ul" listStyleType="none" color="softInk">
          {openings.slice(1).map(({ name, at }) => (
            <li key={at}>
              {name}, <Time at={at} />
            </li>
          ))}
        </Box>
      ) : null}
    </Box>
  );
}
