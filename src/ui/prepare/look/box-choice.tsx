'use client';
import { Box, Flex, Slider, Text } from '@chakra-ui/react';
import { useStore } from 'zustand';
import { growBox, type Box3 } from '@/core/math/box3';
import { QuietButton } from '../../controls';
import { Toggle } from '../../toggle';
import type { LookSession } from './look-session';

const AXES = ['East and west', 'North and south', 'Height'];
/** Metres around what was selected. */
const ROOM = 1;

/** Reveals only what touches a box, which is set side by side by two handles an axis. */
export function BoxChoice({ session, selected }: { session: LookSession; selected: { guid: string } | null }) {
  const box = useStore(session.store, (state) => state.rule?.box);
  const whole = session.boxOf();
  if (!whole) return null;
  const around = selected && session.boxOf(selected.guid);
  const limits = box ? (whole.map((value, i) => (i < 3 ? Math.min : Math.max)(value, box[i]!)) as Box3) : whole;
  return (
    <Box mb="3">
      <Flex align="center" gap="2">
        <Toggle checked={!!box} onToggle={(checked) => session.setBox(checked ? rounded(whole) : null)} flex="1">
          Only what touches a box
        </Toggle>
        {box && around ? (
          <QuietButton size="sm" onClick={() => session.setBox(rounded(growBox(around, ROOM)))}>
            Around the selected
          </QuietButton>
        ) : null}
      </Flex>
      {box
        ? AXES.map((axis, i) => (
            <Slider.Root
              key={axis}
              aria-label={[`${axis}: from`, `${axis}: to`]}
              value={[box[i]!, box[i + 3]!]}
              min={Math.floor(limits[i]!)}
              max={Math.ceil(limits[i + 3]!)}
              step={0.1}
              onValueChange={({ value }) => session.setBox(withSides(box, i, value as [number, number]))}
              colorPalette="gray"
              px="2"
              mb="2"
            >
              <Flex justify="space-between" fontSize="sm">
                <Text>{axis}</Text>
                <Text color="softInk" fontVariantNumeric="tabular-nums">
                  {box[i]!.toFixed(1)} to {box[i + 3]!.toFixed(1)} m
                </Text>
              </Flex>
              <Slider.Control>
                <Slider.Track bg="seam">
                  <Slider.Range bg="ink" />
                </Slider.Track>
                <Slider.Thumbs />
              </Slider.Control>
            </Slider.Root>
          ))
        : null}
    </Box>
  );
}

function withSides(box: Box3, axis: number, [low, high]: [number, number]): Box3 {
  const next: Box3 = [...box];
  next[axis] = low;
  next[axis + 3] = high;
  return next;
}

/** To the next decimetre outwards. */
function rounded(box: Box3): Box3 {
  return box.map((value, i) => (i < 3 ? Math.floor(value * 10) : Math.ceil(value * 10)) / 10) as Box3;
}
