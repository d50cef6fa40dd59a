'use client';
import { Box, NativeSelect, Text } from '@chakra-ui/react';
import { useId } from 'react';

interface ChoiceProps {
  label: string;
  value: string;
  options: [value: string, text: string][];
  onChange: (value: string) => void;
}

/** One of several, as a labelled list to choose from. */
export function Choice({ label, value, options, onChange }: ChoiceProps) {
  const id = useId();
  return (
    <Box minW="160px" flex="1">
      <Text asChild fontWeight="bold" fontSize="sm" mb="1">
        <label htmlFor={id}>{label}</label>
      </Text>
      <NativeSelect.Root>
        <NativeSelect.Field
          id={id}
          value={value}
          onChange={(event) => onChange(event.target.value)}
          bg="card"
          borderColor="seam"
          minH="44px"
          borderRadius="lg"
        >
          {options.map(([key, text]) => (
            <option key={key} value={key}>
              {text}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Box>
  );
}
