'use client';
import { Box, Dialog, Flex, Image, Portal, SimpleGrid, Text } from '@chakra-ui/react';
import { Download, Trash2 } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { v4 as uuidv4 } from 'uuid';
import { SNAPSHOT_SIZES, snapshotFileName, type SnapshotCard } from '@/core/project/snapshot';
import { api } from '../../api';
import { Field, PrimaryButton, QuietButton, RowAct } from '../../controls';
import { oneAtATime } from '../../one-at-a-time';
import { Tick } from '../../tick';
import { saveFile } from '../../save-file';
import { SmallSelect } from '../../small-select';
import { paintPins } from '../overlay/paint-pins';
import { useReview, useSession } from '../session-context';

const SIZE_WORDS = { 1: 'As large as the screen', 2: 'Twice the screen', 4: 'Four times the screen' } as const;

/** Takes pictures of what is seen, and keeps them: named, in groups, to save, to send. */
export function PictureLibrary() {
  const session = useSession();
  const close = () => session.store.setState({ pictures: false });
  const base = `/api/projects/${session.start.project.id}/snapshots`;
  const changed = useReview((state) => state.picturesChanged);
  const [kept, setKept] = useState<SnapshotCard[] | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const reload = useMemo(() => {
    // One after the other: an answer that is late does not bring back what is gone.
    const fetchAnew = oneAtATime(async () => setKept(await api.get<SnapshotCard[]>(base)));
    return () => session.act(fetchAnew);
  }, [session, base]);
  useEffect(reload, [reload, changed]);
  const groups = useMemo(() => [...new Set((kept ?? []).map(({ group }) => group))].sort(), [kept]);
  const some = (kept ?? []).filter(({ id }) => chosen.has(id));
  const { arrange } = session.start.rights;
  return (
    <Dialog.Root open onOpenChange={({ open }) => !open && close()} size="xl" scrollBehavior="inside">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="card" borderRadius="card" maxW="860px">
            <Dialog.Header>
              <Dialog.Title>Pictures</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              {arrange ? <TakePicture base={base} groups={groups.filter(Boolean)} onKept={reload} /> : null}
              {kept?.length === 0 ? (
                <Text color="softInk" mt="4">
                  No picture has been kept yet.
                </Text>
              ) : null}
              {groups.map((group) => (
                <Box key={group} mt="5">
                  {group || groups.length > 1 ? (
                    <Text fontWeight="bold" mb="2">
                      {group || 'In no group'}
                    </Text>
                  ) : null}
                  <SimpleGrid as="ul" listStyleType="none" columns={{ base: 2, md: 4 }} gap="3">
                    {(kept ?? [])
                      .filter((one) => one.group === group)
                      .map((one) => (
                        <Kept
                          key={one.id}
                          card={one}
                          base={base}
                          isChosen={chosen.has(one.id)}
                          onChoose={(isIt) => {
                            const next = new Set(chosen);
                            if (isIt) next.add(one.id);
                            else next.delete(one.id);
                            setChosen(next);
                          }}
                          onDeleted={reload}
                        />
                      ))}
                  </SimpleGrid>
                </Box>
              ))}
            </Dialog.Body>
            <Dialog.Footer gap="2" flexWrap="wrap" justifyContent="space-between">
              {some.length > 0 ? <Together cards={some} base={base} /> : <span />}
              <QuietButton onClick={close}>Close</QuietButton>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

function TakePicture({ base, groups, onKept }: { base: string; groups: string[]; onKept: () => void }) {
  const session = useSession();
  const viewpoint = useReview((state) => state.viewpoints.find(({ id }) => id === state.viewpoint)?.name);
  const [name, setName] = useState(viewpoint ?? '');
  const [group, setGroup] = useState('');
  const [times, setTimes] = useState<number>(2);
  const [withMarks, setMarks] = useState(true);
  const [isBusy, setBusy] = useState(false);
  const take = () => {
    setBusy(true);
    session.act(async () => {
      try {
        const stage = session.stage!;
        const canvas = stage.largeSnapshot(times, withMarks);
        if (withMarks) paintPins(canvas, stage, session.store.getState().comments);
        const picture = await canvas.convertToBlob({ type: 'image/png' });
        await api.bytes(
          `${base}?${new URLSearchParams({ name: name.trim(), group: group.trim() })}`,
          picture,
          uuidv4(),
        );
        onKept();
      } finally {
        setBusy(false);
      }
    });
  };
  return (
    <Box p="4" bg="felt" borderRadius="lg">
      <Flex gap="3" wrap={{ base: 'wrap', md: 'nowrap' }} align="end">
        <Box flex="2 1 180px">
          <Field label="Name" value={name} maxLength={120} onChange={(event) => setName(event.target.value)} />
        </Box>
        <Box flex="1 1 120px">
          <Field
            label="Group"
            value={group}
            maxLength={60}
            list="picture-groups"
            onChange={(event) => setGroup(event.target.value)}
          />
          <datalist id="picture-groups">
            {groups.map((one) => (
              <option key={one} value={one} />
            ))}
          </datalist>
        </Box>
        <Flex flex="1 1 170px">
          <SmallSelect
            label="Size"
            value={String(times)}
            options={SNAPSHOT_SIZES.map((size) => [String(size), SIZE_WORDS[size]] as const)}
            onChange={(size) => setTimes(Number(size))}
          />
        </Flex>
      </Flex>
      <Flex mt="3" gap="4" align="center">
        <Tick checked={withMarks} onTick={setMarks}>
          With measures and comments
        </Tick>
        <PrimaryButton ml="auto" disabled={!name.trim()} loading={isBusy} onClick={take}>
          Take a picture
        </PrimaryButton>
      </Flex>
    </Box>
  );
}

interface KeptProps {
  card: SnapshotCard;
  base: string;
  isChosen: boolean;
  onChoose: (isIt: boolean) => void;
  onDeleted: () => void;
}

function Kept({ card, base, isChosen, onChoose, onDeleted }: KeptProps) {
  const session = useSession();
  const { id, name, width, height } = card;
  return (
    <Box as="li" borderWidth="1px" borderColor={isChosen ? 'indigo' : 'seam'} borderRadius="lg" overflow="hidden">
      <Image src={`${base}/${id}/picture`} alt={name} loading="lazy" w="full" aspectRatio="1.6" objectFit="cover" />
      <Flex align="center" px="2" gap="1">
        <Tick aria-label={`Choose ${name}`} checked={isChosen} onTick={onChoose} />
        <Box flex="1" minW="0" py="1">
          <Text fontSize="sm" fontWeight="bold" truncate title={name}>
            {name}
          </Text>
          <Text fontSize="xs" color="softInk">
            {width} × {height}
          </Text>
        </Box>
        <RowAct
          label={`Save ${name}`}
          icon={<Download size={15} aria-hidden />}
          onClick={() =>
            session.act(async () => saveFile(await api.picture(`${base}/${id}/picture`), snapshotFileName(card)))
          }
        />
        {session.start.rights.arrange ? (
          <RowAct
            label={`Delete ${name}`}
            icon={<Trash2 size={15} aria-hidden />}
            onClick={() => session.act(async () => (await api.delete(`${base}/${id}`), onDeleted()))}
          />
        ) : null}
      </Flex>
    </Box>
  );
}

/** What is done with several pictures: one zip, one mail. */
function Together({ cards, base }: { cards: readonly SnapshotCard[]; base: string }) {
  const session = useSession();
  const [to, setTo] = useState('');
  const [isSent, setSent] = useState(false);
  const zip = () =>
    session.act(async () => {
      const { zip: pack } = await import('fflate');
      const files: Record<string, [Uint8Array, { level: 0 }]> = {};
      for (const card of cards) {
        const bytes = new Uint8Array(await (await api.picture(`${base}/${card.id}/picture`)).arrayBuffer());
        // PNG is packed already.
        files[freeName(files, card)] = [bytes, { level: 0 }];
      }
      const packed = await new Promise<Uint8Array<ArrayBuffer>>((done, fail) =>
        pack(files, (error, data) => (error ? fail(error) : done(data as Uint8Array<ArrayBuffer>))),
      );
      saveFile(new Blob([packed], { type: 'application/zip' }), 'pictures.zip');
    });
  const send = () =>
    session.act(async () => {
      await api.post(`${base}/mail`, { ids: cards.map(({ id }) => id), to: to.trim() });
      setSent(true);
    });
  return (
    <Flex gap="2" align="center" wrap="wrap">
      <QuietButton onClick={zip}>{cards.length === 1 ? 'Save as zip' : `Save ${cards.length} as zip`}</QuietButton>
      {session.start.rights.stations ? (
        <Flex
          as="form"
          gap="2"
          align="end"
          onSubmit={(event) => {
            event.preventDefault();
            send();
          }}
        >
          <Field
            label="Send to"
            type="email"
            value={to}
            maxLength={200}
            onChange={(event) => (setTo(event.target.value), setSent(false))}
          />
          <QuietButton type="submit" disabled={!to.includes('@') || isSent}>
            {isSent ? 'Sent' : 'Send'}
          </QuietButton>
        </Flex>
      ) : null}
    </Flex>
  );
}

/** Pictures of one name get numbers. */
function freeName(taken: Record<string, unknown>, card: SnapshotCard): string {
  const name = snapshotFileName(card);
  for (let i = 2, next = name; ; i++) {
    if (!(next in taken)) return next;
    next = name.replace(/\.png$/, ` ${i}.png`);
  }
}
