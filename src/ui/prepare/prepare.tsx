'use client';
import { Box, Flex, Grid, Heading, Stack, Text } from '@chakra-ui/react';
import { useCallback, useRef, useState } from 'react';
import { api, messageOf } from '../api';
import { useLiveProject } from '../live-page';
import { SearchField, Trouble } from '../controls';
import { DropZone } from './drop-zone';
import { LinksPanel } from './links-panel';
import { ModelCard } from './model-card';
import { OptionsPanel } from './options/options-panel';
import { StorePanel } from './store/store-panel';
import type { OptionSet } from '@/core/options/option-set';
import type { ModelSummary, ProjectDetail } from '@/core/project/models';
import type { StoreConnection, StoreSource } from '@/core/project/model-store';

/** From so many models on there is a field to search them. */
const MANY = 8;

interface PrepareProps {
  initial: ProjectDetail;
  initialOptions: OptionSet[];
  mayInvite: boolean;
  /** Null where this installation has no model store. */
  store: { connection: StoreConnection; sources: StoreSource[]; refused: boolean } | null;
}

/** Station Prepare: bring models in, see what became of them, hand out links. */
export function Prepare({ initial, initialOptions, mayInvite, store }: PrepareProps) {
  const [project, setProject] = useState(initial);
  const [options, setOptions] = useState(initialOptions);
  const [query, setQuery] = useState('');
  const [trouble, setTrouble] = useState<string | null>(null);
  const states = useRef('');
  const fetchAnew = useCallback(async () => {
    const loaded = await api.get<ProjectDetail>(`/api/projects/${initial.id}`);
    setProject(loaded);
    const now = statesOf(loaded);
    if (now === states.current || document.visibilityState !== 'visible') return;
    states.current = now;
    // Who sees it here need not be told under the bell nor by mail.
    api.patch('/api/notices', { projectId: initial.id }).catch(() => undefined);
  }, [initial.id]);
  const reload = useLiveProject(initial.id, 'models-changed jobs-changed approvals-changed', fetchAnew, setTrouble);

  const reloadOptions = useCallback(() => {
    api
      .get<OptionSet[]>(`/api/projects/${initial.id}/options`)
      .then(setOptions, (error: unknown) => setTrouble(messageOf(error)));
  }, [initial.id]);

  const found = project.models.filter((model) => isAbout(model, query));

  return (
    <Box as="main" maxW="1180px" mx="auto" px={{ base: '4', md: '6' }} pb="12" pt="4">
      <Heading as="h1" fontSize="3xl">
        {project.name}
      </Heading>
      <Text color="softInk" mb="6">
        Bring models in, publish revisions, invite people.
      </Text>
      <Trouble text={trouble} />
      <Grid templateColumns={{ base: '1fr', lg: '1fr 380px' }} gap="6" alignItems="start">
        <Stack gap="5">
          <DropZone project={project} onQueued={reload} />
          {store ? (
            <StorePanel
              project={project}
              initial={store.connection}
              initialSources={store.sources}
              refused={store.refused}
            />
          ) : null}
          <Flex as="section" direction="column" gap="4" aria-label="Models">
            {project.models.length > MANY ? (
              <SearchField
                label="Search the models"
                placeholder={`Search ${project.models.length} models: name, discipline, file`}
                value={query}
                onSearch={setQuery}
                bg="card"
              />
            ) : null}
            {found.map((model) => (
              <ModelCard key={model.id} projectId={project.id} model={model} onChanged={reload} />
            ))}
            {found.length === 0 && project.models.length > 0 ? (
              <Text color="softInk">No model is called that.</Text>
            ) : null}
            {project.models.length === 0 ? (
              <Text color="softInk">No model yet. Drop a file above; the first one becomes revision P01.</Text>
            ) : null}
          </Flex>
        </Stack>
        <Stack gap="5">
          {mayInvite ? <LinksPanel projectId={project.id} options={options} /> : null}
          <OptionsPanel project={project} sets={options} onChanged={reloadOptions} />
        </Stack>
      </Grid>
    </Box>
  );
}

/** Whether a model, its discipline or one of its files is called something like it. */
function isAbout({ name, discipline, revisions }: ModelSummary, query: string): boolean {
  const texts = [name, discipline, ...revisions.map(({ fileName }) => fileName)];
  return texts.some((text) => text.toLowerCase().includes(query.trim().toLowerCase()));
}

/** How each revision stands, in one text to compare. */
function statesOf(project: ProjectDetail): string {
  return project.models.flatMap((model) => model.revisions.map(({ id, state }) => `${id} ${state}`)).join();
}
