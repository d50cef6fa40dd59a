'use client';
import { Box, Flex, Heading, Stack, Text } from '@chakra-ui/react';
import { useCallback, useEffect, useRef, useState, type DragEvent } from 'react';
import { api, messageOf } from '../api';
import { Card, Field, PrimaryButton, QuietButton, Trouble } from '../controls';
import type { ProjectDetail } from '@/core/project/models';
import {
  disciplineOf,
  DISCIPLINES,
  MODEL_ENDINGS,
  modelNameOf,
  modelOfFile,
  PART_ENDINGS,
} from '@/core/project/incoming-file';
import type { PublishIntent } from '@/core/project/publish-settings';
import { bundle } from './bundle';
import { Choice } from '../choice';
import { ProgressBar } from '../progress-bar';
import { kilobytes } from '../words';
import { uploadFile } from './upload';

const NEW = 'new';
const ACCEPTED = [...MODEL_ENDINGS, ...PART_ENDINGS].join();

interface Waiting {
  file: File;
  /** Id of an existing model, or NEW. */
  target: string;
  name: string;
  discipline: string;
  share: number | null;
  trouble: string | null;
}

/** Drop files, say what each is, publish. */
export function DropZone({ project, onQueued }: { project: ProjectDetail; onQueued: () => void }) {
  const chooser = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [waiting, setWaiting] = useState<Waiting[]>([]);
  const [note, setNote] = useState('');
  const [busy, setBusy] = useState(false);

  const { models } = project;
  const add = useCallback(
    async (files: File[]) => {
      const more = (await bundle(files)).map((file): Waiting => {
        return {
          file,
          target: modelOfFile(models, file.name)?.id ?? NEW,
          name: modelNameOf(file.name),
          discipline: disciplineOf(file.name),
          share: null,
          trouble: null,
        };
      });
      setWaiting((old) => [...old, ...more]);
    },
    [models],
  );
  // Emptied at once, so that no file is taken twice, and the same file can be chosen again.
  const takeChosen = useCallback(() => {
    const input = chooser.current;
    if (!input?.files?.length) return;
    const files = [...input.files];
    input.value = '';
    void add(files);
  }, [add]);
  // What was chosen before the page came alive counts too.
  useEffect(takeChosen, [takeChosen]);
  const change = (file: File, part: Partial<Waiting>) =>
    setWaiting((old) => old.map((entry) => (entry.file === file ? { ...entry, ...part } : entry)));

  const send = async (intent: PublishIntent) => {
    setBusy(true);
    for (const entry of waiting) {
      try {
        change(entry.file, { share: 0, trouble: null });
        const uploadId = await uploadFile(entry.file, (share) => change(entry.file, { share }));
        await api.post(`/api/projects/${project.id}/publications`, {
          uploadId,
          note,
          intent,
          ...(entry.target === NEW
            ? { modelName: entry.name, discipline: entry.discipline }
            : { modelId: entry.target }),
        });
        setWaiting((old) => old.filter((other) => other.file !== entry.file));
        onQueued();
      } catch (error) {
        change(entry.file, { share: null, trouble: messageOf(error) });
      }
    }
    setBusy(false);
    setNote('');
  };

  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void add([...event.dataTransfer.files]);
  };

  return (
    <Card
      p="5"
      borderStyle="dashed"
      borderWidth="2px"
      borderColor={over ? 'madder' : 'seam'}
      bg={over ? 'felt' : 'card'}
      onDragOver={(event) => (event.preventDefault(), setOver(true))}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <Flex align="center" gap="4" wrap="wrap">
        <Box flex="1" minW="220px">
          <Heading as="h2" fontSize="lg">
            Bring in a model
          </Heading>
          <Text color="softInk" fontSize="sm">
            Drop IFC, glTF, OBJ, STL, PLY, COLLADA, 3MF or gbXML files here, files in parts together or as a zip. The
            files themselves are never changed.
          </Text>
        </Box>
        <QuietButton onClick={() => chooser.current?.click()}>Choose files</QuietButton>
        <input
          ref={chooser}
          type="file"
          multiple
          hidden
          aria-label="Model files"
          accept={ACCEPTED}
          onChange={takeChosen}
        />
      </Flex>
      {waiting.length > 0 ? (
        <Stack gap="4" mt="5">
          {waiting.map((entry, i) => (
            <WaitingFile
              key={i}
              entry={entry}
              project={project}
              busy={busy}
              onChange={(part) => change(entry.file, part)}
              onRemove={() => setWaiting((old) => old.filter((other) => other !== entry))}
            />
          ))}
          <Field
            label="Note: what is new?"
            value={note}
            maxLength={500}
            onChange={(event) => setNote(event.target.value)}
          />
          <Flex gap="3" wrap="wrap">
            <PrimaryButton onClick={() => void send('publish')} loading={busy} loadingText="Uploading">
              Publish
            </PrimaryButton>
            <QuietButton onClick={() => void send('look')} disabled={busy}>
              Look at it first
            </QuietButton>
          </Flex>
        </Stack>
      ) : null}
    </Card>
  );
}

function WaitingFile({
  entry,
  project,
  busy,
  onChange,
  onRemove,
}: {
  entry: Waiting;
  project: ProjectDetail;
  busy: boolean;
  onChange: (part: Partial<Waiting>) => void;
  onRemove: () => void;
}) {
  return (
    <Box borderTopWidth="1px" borderColor="seam" pt="3">
      <Flex gap="3" align="center" mb="2">
        <Text fontWeight="bold" flex="1" truncate title={entry.file.name}>
          {entry.file.name}
        </Text>
        <Text color="softInk" fontSize="sm">
          {kilobytes(entry.file.size)}
        </Text>
        {busy ? null : (
          <QuietButton size="sm" onClick={onRemove}>
            Leave out
          </QuietButton>
        )}
      </Flex>
      <Flex gap="3" wrap="wrap">
        <Choice
          label="Publish as"
          value={entry.target}
          onChoose={(value) => onChange({ target: value })}
          options={[
            [NEW, 'a new model'],
            ...project.models.map((model): [string, string] => [model.id, `next revision of ${model.name}`]),
          ]}
        />
        {entry.target === NEW ? (
          <>
            <Field
              label="Name of the model"
              value={entry.name}
              maxLength={120}
              onChange={(event) => onChange({ name: event.target.value })}
            />
            <Choice
              label="Discipline"
              value={entry.discipline}
              onChoose={(value) => onChange({ discipline: value })}
              options={DISCIPLINES.map((name) => [name, name])}
            />
          </>
        ) : null}
      </Flex>
      {entry.share === null ? null : <ProgressBar share={entry.share} label={`Upload of ${entry.file.name}`} />}
      <Box mt="2">
        <Trouble text={entry.trouble} />
      </Box>
    </Box>
  );
}
