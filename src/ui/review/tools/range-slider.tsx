'use client';
import { Slider, Text } from '@chakra-ui/react';

interface RangeSliderProps {
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  /** How a value reads. */
  text: (value: number) => string;
  onMove: (value: number) => void;
  onEnd: (value: number) => void;
}

/** One value of a range, told beside it. */
export function RangeSlider({ label, value, min, max, step, text, onMove, onEnd }: RangeSliderProps) {
  return (
    <Slider.Root
      value={[value]}
      min={min}
      max={max}
      step={step}
      minH="44px"
      display="flex"
      flexDirection="row"
      alignItems="center"
      gap="3"
      aria-label={[label]}
      getAriaValueText={({ value: now }) => text(now)}
      onValueChange={({ value: [now = value] }) => onMove(now)}
      onValueChangeEnd={({ value: [now = value] }) => onEnd(now)}
    >
      <Slider.Control flex="1">
        <Slider.Track bg="seam">
          <Slider.Range bg="ink" />
        </Slider.Track>
        <Slider.Thumb index={0} boxSize="22px" bg="ink" borderColor="card" />
      </Slider.Control>
      <Text fontSize="sm" w="52px" textAlign="right" fontVariantNumeric="tabular-nums">
        {text(value)}
      </Text>
    </Slider.Root>
  );
}
