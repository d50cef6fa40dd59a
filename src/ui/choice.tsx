'use client';
import { Box, NativeSelect, Text, type NativeSelectFieldProps } from '@chakra-ui/react';
import { useId, type Ref } from 'react';

interface ChoiceProps extends Omit<NativeSelectFieldProps, 'children'> {
  ref?: Ref<HTMLSelectElement>;
  label: string;
  options: readonly (readonly [value: string, text: string])[];
  onChoose?: (value: string) => void;
}

/** One of several, as a labelled list to choose from. */
export function Choice({ label, options, onChoose, ...field }: ChoiceProps) {
  const id = useId();
  return (
    <Box minW="160px" flex="1">
      <Text asChild fontWeight="bold" fontSize="sm" mb="1">
        <label htmlFor={id}>{label}</label>
      </Text>
      <NativeSelect.Root>
        <NativeSelect.Field
          id={id}
          bg="card"
          borderColor="seam"
          minH="44px"
          borderRadius="lg"
          {...(onChoose && { onChange: (event) => onChoose(event.target.value) })}
          {...field}
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
