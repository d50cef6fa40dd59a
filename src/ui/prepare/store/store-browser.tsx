'use client';
import { Box, Button, Dialog, Flex, Portal, Stack, Text } from '@chakra-ui/react';
import { ChevronRight, File, Folder } from 'lucide-react';
import { useEffect, useState, type ReactNode } from 'react';
import type { ProjectDetail } from '@/core/project/models';
import type { StoreFile, StoreFolder, StoreSource, StoreSourceDraft } from '@/core/project/model-store';
import { DISCIPLINES, disciplineOf, isModelFile, modelNameOf, modelOfFile } from '@/core/project/incoming-file';
import { api, messageOf } from '../../api';
import { Choice } from '../../choice';
import { Field, PrimaryButton, QuietButton, Trouble } from '../../controls';
import { Toggle } from '../../toggle';
import { timeText } from '../../time';
import { kilobytes } from '../../words';

const NEW = 'new';

interface StoreBrowserProps {
  store: string;
  project: ProjectDetail;
  taken: StoreSource[];
  onClose: () => void;
  onChoose: (draft: StoreSourceDraft) => Promise<unknown>;
}

/** Walks the folders of the store, then asks what the chosen file becomes. */
export function StoreBrowser({ store, project, taken, onClose, onChoose }: StoreBrowserProps) {
  const [at, setAt] = useState('root');
  const [folder, setFolder] = useState<StoreFolder | null>(null);
  const [file, setFile] = useState<StoreFile | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    let current = true;
    api.get<StoreFolder>(`/api/model-store/folder?${new URLSearchParams({ id: at })}`).then(
      (loaded) => current && (setFolder(loaded), setTrouble(null)),
      (error: unknown) => current && setTrouble(messageOf(error)),
    );
    return () => {
      current = false;
    };
  }, [at]);
  const choose = (draft: StoreSourceDraft) =>
    onChoose(draft).then(onClose, (error: unknown) => setTrouble(messageOf(error)));
  return (
    <Dialog.Root open onOpenChange={({ open }) => !open && onClose()} scrollBehavior="inside">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="card" color="ink" borderRadius="card" maxW="560px">
            <Dialog.Header pb="2">
              <Dialog.Title>{file ? `What becomes of ${file.name}?` : `A file from ${store}`}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body minH="300px">
              <Trouble text={trouble} />
              {file ? (
                <Destination project={project} file={file} onBack={() => setFile(null)} onChoose={choose} />
              ) : folder ? (
                <Shelf folder={folder} taken={taken} onFolder={setAt} onFile={setFile} />
              ) : trouble ? null : (
                <Text color="softInk">Asking {store} …</Text>
              )}
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <QuietButton size="sm" position="absolute" top="3" right="3">
                Close
              </QuietButton>
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

interface ShelfProps {
  folder: StoreFolder;
  taken: StoreSource[];
  onFolder: (id: string) => void;
  onFile: (file: StoreFile) => void;
}

function Shelf({ folder, taken, onFolder, onFile }: ShelfProps) {
  return (
    <>
      <Flex as="nav" aria-label="Folders above" align="center" wrap="wrap" mb="2">
        {folder.path.map(({ id, name }, i) => (
          <Flex key={id} align="center">
            {i > 0 ? <ChevronRight size={14} aria-hidden /> : null}
            <Button variant="ghost" size="sm" minH="44px" px="2" onClick={() => onFolder(id)}>
              {name}
            </Button>
          </Flex>
        ))}
      </Flex>
      <Stack as="ul" listStyleType="none" gap="0">
        {folder.folders.map(({ id, name }) => (
          <Line key={id} onPress={() => onFolder(id)} icon={<Folder size={18} aria-hidden />} text={name} />
        ))}
        {folder.files.map((file) => {
          const chosen = taken.some(({ fileId }) => fileId === file.id);
          const readable = isModelFile(file.name);
          const { number, bytes, at } = file.version;
          const about = `version ${number}, ${timeText(at)}, ${kilobytes(bytes)}`;
          return (
            <Line
              key={file.id}
              onPress={chosen || !readable ? undefined : () => onFile(file)}
              icon={<File size={18} aria-hidden />}
              text={file.name}
              detail={chosen ? 'chosen already' : readable ? about : 'not a model that Yurta reads'}
            />
          );
        })}
      </Stack>
      {folder.folders.length + folder.files.length === 0 ? <Text color="softInk">This folder is empty.</Text> : null}
    </>
  );
}

interface LineProps {
  icon: ReactNode;
  text: string;
  detail?: string;
  onPress?: () => void;
}

function Line({ icon, text, detail, onPress }: LineProps) {
  return (
    <li>
      <Button
        variant="ghost"
        w="full"
        h="auto"
        minH="48px"
        justifyContent="flex-start"
        gap="3"
        px="2"
        disabled={!onPress}
        onClick={onPress}
        _hover={{ bg: 'felt' }}
      >
        {icon}
        <Box textAlign="left" minW="0">
          <Text overflowWrap="anywhere" whiteSpace="normal">
            {text}
          </Text>
          {detail ? (
            <Text color="softInk" fontSize="sm" fontWeight="normal">
              {detail}
            </Text>
          ) : null}
        </Box>
      </Button>
    </li>
  );
}

interface DestinationProps {
  project: ProjectDetail;
  file: StoreFile;
  onBack: () => void;
  onChoose: (draft: StoreSourceDraft) => Promise<unknown>;
}

function Destination({ project, file, onBack, onChoose }: DestinationProps) {
  const [target, setTarget] = useState(modelOfFile(project.models, file.name)?.id ?? NEW);
  const [name, setName] = useState(modelNameOf(file.name));
  const [discipline, setDiscipline] = useState(disciplineOf(file.name));
  const [follow, setFollow] = useState(true);
  const [busy, setBusy] = useState(false);
  const model = project.models.find(({ id }) => id === target);
  const send = async () => {
    setBusy(true);
    await onChoose({
      fileId: file.id,
      ...(model ? { modelId: model.id } : {}),
      modelName: model?.name ?? name,
      discipline: model?.discipline ?? discipline,
      follow,
    });
    setBusy(false);
  };
  return (
    <Stack gap="4">
      <Choice
        label="Publish as"
        value={target}
        onChoose={setTarget}
        options={[
          [NEW, 'a new model'],
          ...project.models.map((one): [string, string] => [one.id, `next revision of ${one.name}`]),
        ]}
      />
      {model ? null : (
        <Flex gap="3" wrap="wrap">
          <Field
            label="Name of the model"
            value={name}
            maxLength={120}
            onChange={(event) => setName(event.target.value)}
          />
          <Choice
            label="Discipline"
            value={discipline}
            onChoose={setDiscipline}
            options={DISCIPLINES.map((one) => [one, one])}
          />
        </Flex>
      )}
      <Toggle checked={follow} onToggle={setFollow}>
        Publish every new version by itself
      </Toggle>
      <Flex gap="3">
        <PrimaryButton onClick={() => void send()} loading={busy} disabled={!model && !name.trim()}>
          Publish version {file.version.number}
        </PrimaryButton>
        <QuietButton onClick={onBack}>Back to the folder</QuietButton>
      </Flex>
    </Stack>
  );
}
