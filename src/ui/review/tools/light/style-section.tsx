'use client';
import { Box, Flex, Input, Text } from '@chakra-ui/react';
import {
  BACKGROUND_WORDS,
  BACKGROUNDS,
  HEAVIEST_INK,
  LOOK_WORDS,
  LOOKS,
  type Background,
  type Look,
  type Style,
} from '@/core/view/style';
import { RESOLUTIONS, type Resolution } from '@/stage/resolution';
import { RESOLUTION_WORDS, resolutionStore, useResolution } from '../../../resolution';
import { ThemeChoice } from '../../../theme-choice';
import { useReview, useSession } from '../../session-context';
import { OpenBeside } from '../../beside/open-beside';
import { TrayAct } from '../tray';
import { RangeSlider } from '../range-slider';
import { SmallSelect } from '../../../small-select';

/** How the model is drawn, on what, and how finely. */
export function StyleSection() {
  const session = useSession();
  const style = useReview((state) => state.view.style);
  const resolution = useResolution();
  const set = (change: Partial<Style>, isMoving = false) =>
    session.view.set({ style: { ...session.store.getState().view.style, ...change } }, isMoving);
  return (
    <Box mt="3" pt="3" borderTopWidth="1px" borderColor="seam">
      <Text fontSize="sm" fontWeight="bold" mb="2">
        Drawn
      </Text>
      <Flex gap="2">
        <SmallSelect
          label="Style"
          value={style.look}
          options={LOOKS.map((look) => [look, LOOK_WORDS[look]] as const)}
          onChange={(look) => set({ look: look as Look })}
        />
        <SmallSelect
          label="Background"
          value={style.background}
          options={BACKGROUNDS.map((one) => [one, BACKGROUND_WORDS[one]] as const)}
          onChange={(background) => set({ background: background as Background })}
        />
        {style.background === 'plain' ? (
          <Input
            type="color"
            aria-label="Colour of the background"
            w="44px"
            minW="44px"
            h="40px"
            p="1"
            borderColor="seam"
            value={style.colour}
            onChange={(event) => set({ colour: event.target.value }, true)}
            onBlur={(event) => set({ colour: event.target.value })}
          />
        ) : null}
      </Flex>
      <Text fontSize="xs" color="softInk" mt="2">
        Line weight
      </Text>
      <RangeSlider
        label="Line weight"
        value={style.ink}
        min={0}
        max={HEAVIEST_INK}
        step={0.1}
        text={(value) => (value === 0 ? 'none' : value.toFixed(1))}
        onMove={(ink) => set({ ink }, true)}
        onEnd={(ink) => set({ ink })}
      />
      <Flex gap="2" my="2" wrap="wrap">
        <TrayAct hint="Hides everything but the model (Q)" onClick={() => session.store.setState({ quiet: true })}>
          Quiet screen
        </TrayAct>
        <OpenBeside page="view" />
      </Flex>
      <Box mb="2">
        <ThemeChoice />
      </Box>
      <SmallSelect
        label="Resolution, on this device"
        value={resolution}
        options={RESOLUTIONS.map((one) => [one, RESOLUTION_WORDS[one]] as const)}
        onChange={(one) => resolutionStore.setState({ resolution: one as Resolution })}
      />
    </Box>
  );
}
