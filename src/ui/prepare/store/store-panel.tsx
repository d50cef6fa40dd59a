'use client';
import { Box, Flex, Heading, Stack, Text } from '@chakra-ui/react';
import { useEffect, useMemo, useState } from 'react';
import type { ProjectDetail } from '@/core/project/models';
import type { StoreConnection, StoreSource } from '@/core/project/model-store';
import { api, messageOf } from '../../api';
import { oneAtATime } from '../../one-at-a-time';
import { Card, QuietButton, Trouble } from '../../controls';
import { SourceLine } from './source-line';
import { StoreBrowser } from './store-browser';

interface StorePanelProps {
  project: ProjectDetail;
  initial: StoreConnection;
  initialSources: StoreSource[];
  /** Whether one was just sent back from the store's door without being let in. */
  refused: boolean;
}

/** Files of the model store in the cloud: connect, choose, follow, take, disconnect. */
export function StorePanel({ project, initial, initialSources, refused }: StorePanelProps) {
  const [connection, setConnection] = useState(initial);
  const [sources, setSources] = useState(initialSources);
  const [choosing, setChoosing] = useState(false);
  const [trouble, setTrouble] = useState(refused ? notConnected(initial.store) : null);
  const path = `/api/projects/${project.id}/sources`;
  const reload = useMemo(
    () =>
      oneAtATime(async () => {
        await Promise.all([
          api.get<StoreConnection>('/api/model-store').then(setConnection),
          api.get<StoreSource[]>(path).then(setSources),
        ]);
      }),
    [path],
  );
  const act = (work: Promise<unknown>) =>
    work.then(reload).then(
      () => setTrouble(null),
      (error: unknown) => setTrouble(messageOf(error)),
    );
  // Whatever happens to a model or a source, the project's page hears of and hands its new state down.
  useEffect(() => {
    reload().catch((error: unknown) => setTrouble(messageOf(error)));
  }, [reload, project]);
  const { store, account, trouble: broken } = connection;
  const connect = `/api/model-store/begin?page=/projects/${project.id}/prepare`;
  return (
    <Card as="section" aria-label={store} p="5">
      <Flex align="center" gap="3" wrap="wrap">
        <Box flex="1" minW="220px">
          <Heading as="h2" fontSize="lg">
            {store}
          </Heading>
          <Text color="softInk" fontSize="sm">
            {account
              ? `Connected as ${account}. Yurta reads there and changes nothing.`
              : 'Take models straight from where your files lie, and their next versions as revisions.'}
          </Text>
        </Box>
        {account && !broken ? (
          <>
            <QuietButton onClick={() => setChoosing(true)}>Choose a file</QuietButton>
            <QuietButton onClick={() => void act(api.delete('/api/model-store'))}>Disconnect</QuietButton>
          </>
        ) : (
          <QuietButton asChild>
            <a href={connect}>{broken ? 'Connect again' : 'Connect'}</a>
          </QuietButton>
        )}
      </Flex>
      {trouble || broken ? (
        <Box mt="3">
          <Trouble text={trouble ?? broken} />
        </Box>
      ) : null}
      {sources.length > 0 ? (
        <Stack as="ul" listStyleType="none" gap="0" mt="4" aria-label={`Files from ${store}`}>
          {sources.map((source) => (
            <SourceLine
              key={source.id}
              source={source}
              onFollow={(follow) => void act(api.patch(`${path}/${source.id}`, { follow }))}
              onTake={() => void act(api.post(`${path}/${source.id}`, {}))}
              onRemove={() => void act(api.delete(`${path}/${source.id}`))}
            />
          ))}
        </Stack>
      ) : null}
      {choosing ? (
        <StoreBrowser
          store={store}
          project={project}
          taken={sources}
          onClose={() => setChoosing(false)}
          onChoose={(draft) => api.post(path, draft).then(reload)}
        />
      ) : null}
    </Card>
  );
}

function notConnected(store: string): string {
  return `${store} was not connected: access was not allowed, or it took too long. Nothing was changed; try again.`;
}
