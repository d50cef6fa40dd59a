'use client';
import { Popover, Portal, Stack } from '@chakra-ui/react';
import { Pause, Play } from 'lucide-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import { IconButton, PrimaryButton } from '../../controls';
import { SmallSelect } from '../../small-select';
import { Tick } from '../../tick';
import { useSession } from '../session-context';
import { PLAY_SECONDS } from './playing';

/** Plays the viewpoints by themselves: how long each, and whether it waits. */
export function PlayButton({ disabled }: { disabled: boolean }) {
  const { playing } = useSession();
  const play = useStore(playing.store);
  const [isOpen, setOpen] = useState(false);
  if (play.isOn)
    return (
      <IconButton label="Stop playing" minW="36px" w="36px" onClick={() => playing.stop()}>
        <Pause size={17} aria-hidden />
      </IconButton>
    );
  return (
    <Popover.Root open={isOpen} onOpenChange={({ open }) => setOpen(open)} positioning={{ placement: 'top-start' }}>
      <Popover.Trigger asChild>
        <IconButton label="Play by itself" minW="36px" w="36px" disabled={disabled}>
          <Play size={17} aria-hidden />
        </IconButton>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content bg="card" borderRadius="card" borderWidth="1px" borderColor="seam" w="270px">
            <Popover.Body>
              <Stack gap="3">
                <SmallSelect
                  label="How long each viewpoint shows"
                  value={String(play.seconds)}
                  options={PLAY_SECONDS.map((seconds) => [String(seconds), `${seconds} seconds each`] as const)}
                  onChange={(seconds) => playing.store.setState({ seconds: Number(seconds) })}
                />
                <Tick
                  size="sm"
                  checked={play.waitsAtQuestions}
                  onTick={(waitsAtQuestions) => playing.store.setState({ waitsAtQuestions })}
                >
                  Wait where there is a question
                </Tick>
                <Tick size="sm" checked={play.isEndless} onTick={(isEndless) => playing.store.setState({ isEndless })}>
                  Again and again, for a lobby
                </Tick>
                <PrimaryButton
                  onClick={() => {
                    setOpen(false);
                    playing.start();
                  }}
                >
                  Play
                </PrimaryButton>
              </Stack>
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}
