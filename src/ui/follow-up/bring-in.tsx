'use client';
import { Box, Dialog, Flex, Portal, Stack, Text } from '@chakra-ui/react';
import { useRef, useState } from 'react';
import type { BcfPreview, TopicChange } from '@/core/bcf/merge-topic';
import { api, messageOf } from '../api';
import { PrimaryButton, QuietButton, Trouble } from '../controls';
import { Tick } from '../tick';

const STATES: Record<TopicChange['state'], string> = { new: 'New', changed: 'Changed', same: 'As it is here' };

/** Takes over what was said elsewhere from a BCF file, after a look at what that changes. */
export function BringIn({ base, onDone }: { base: string; onDone: () => void }) {
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(null);
  const [preview, setPreview] = useState<BcfPreview | null>(null);
  const [wanted, setWanted] = useState<ReadonlySet<string>>(new Set());
  const [trouble, setTrouble] = useState<string | null>(null);
  const [isBusy, setBusy] = useState(false);
  const look = async (chosen: File) => {
    setFile(chosen);
    setTrouble(null);
    setPreview(null);
    try {
      const seen = await api.bytes<BcfPreview>(`${base}/bcf?preview=1`, asBytes(chosen));
      setPreview(seen);
      setWanted(new Set(seen.topics.filter(({ state }) => state !== 'same').map(({ guid }) => guid)));
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  const take = async () => {
    setBusy(true);
    try {
      const query = new URLSearchParams({ guids: [...wanted].join(',') });
      await api.bytes(`${base}/bcf?${query}`, asBytes(file!));
      onDone();
      setFile(null);
    } catch (error) {
      setTrouble(messageOf(error));
    }
    setBusy(false);
  };
  return (
    <>
      <QuietButton onClick={() => input.current?.click()}>Bring in BCF</QuietButton>
      <input
        ref={input}
        type="file"
        hidden
        aria-label="BCF file"
        accept=".bcf,.bcfzip,.zip"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen) void look(chosen);
          event.target.value = '';
        }}
      />
      <Dialog.Root
        open={file !== null}
        onOpenChange={({ open }) => !open && setFile(null)}
        scrollBehavior="inside"
        size="lg"
      >
        <Portal>
          <Dialog.Backdrop />
          <Dialog.Positioner>
            <Dialog.Content bg="card" borderRadius="card">
              <Dialog.Header>
                <Dialog.Title>Bring in “{file?.name}”</Dialog.Title>
              </Dialog.Header>
              <Dialog.Body>
                <Trouble text={trouble} />
                {preview ? (
                  <>
                    <Text color="softInk" mb="3">
                      BCF {preview.version}, {preview.topics.length} {preview.topics.length === 1 ? 'topic' : 'topics'}.
                      Nothing has been changed yet.
                    </Text>
                    {preview.refused.map(({ name, reason }) => (
                      <Text key={name} fontSize="sm" color="madder">
                        {name} cannot be read: {reason}
                      </Text>
                    ))}
                    <Stack as="ul" listStyleType="none" gap="2" aria-label="Topics of the file">
                      {preview.topics.map((topic) => (
                        <Topic
                          key={topic.guid}
                          topic={topic}
                          isWanted={wanted.has(topic.guid)}
                          onTick={(isWanted) => {
                            const next = new Set(wanted);
                            if (isWanted) next.add(topic.guid);
                            else next.delete(topic.guid);
                            setWanted(next);
                          }}
                        />
                      ))}
                    </Stack>
                  </>
                ) : trouble ? null : (
                  <Text color="softInk" role="status">
                    Reading the file …
                  </Text>
                )}
              </Dialog.Body>
              <Dialog.Footer>
                <QuietButton onClick={() => setFile(null)}>Cancel</QuietButton>
                <PrimaryButton disabled={!preview || wanted.size === 0} loading={isBusy} onClick={() => void take()}>
                  Take over {wanted.size}
                </PrimaryButton>
              </Dialog.Footer>
            </Dialog.Content>
          </Dialog.Positioner>
        </Portal>
      </Dialog.Root>
    </>
  );
}

function Topic({
  topic,
  isWanted,
  onTick,
}: {
  topic: TopicChange;
  isWanted: boolean;
  onTick: (isWanted: boolean) => void;
}) {
  const { number, text, author, state, changes, newReplies, newFiles } = topic;
  const more = [
    newReplies > 0 ? `${newReplies} new ${newReplies === 1 ? 'answer' : 'answers'}` : '',
    newFiles > 0 ? `${newFiles} new ${newFiles === 1 ? 'file' : 'files'}` : '',
  ].filter(Boolean);
  return (
    <Flex as="li" gap="3" borderWidth="1px" borderColor="seam" borderRadius="10px" px="3" py="2">
      <Tick
        checked={isWanted}
        onTick={onTick}
        disabled={state === 'same'}
        aria-label={`Take over ${text.slice(0, 60)}`}
      />
      <Box flex="1" minW="0">
        <Text truncate dir="auto">
          {text}
        </Text>
        <Text fontSize="sm" color="softInk">
          <b>{STATES[state]}</b>
          {number === null ? '' : `, number ${number} here`} · {author}
          {more.length > 0 && state !== 'new' ? ` · ${more.join(', ')}` : ''}
        </Text>
        {changes.map(({ field, from, to }) => (
          <Text key={field} fontSize="sm" dir="auto">
            {field}: {from || '–'} → {to || '–'}
          </Text>
        ))}
      </Box>
    </Flex>
  );
}

function asBytes(file: File): Blob {
  return new Blob([file], { type: 'application/octet-stream' });
}
