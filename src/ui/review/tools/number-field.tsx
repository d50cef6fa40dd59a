'use client';
import { Box, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';

interface NumberFieldProps {
  label: string;
  unit: string;
  value: number;
  /** Decimals that show. */
  digits?: number;
  /** With Enter, or when one leaves the field; what is no number is dropped. */
  onCommit: (value: number) => void;
}

/** A number that is typed. While one writes, what one writes stands there; otherwise the value. */
export function NumberField({ label, unit, value, digits = 3, onCommit }: NumberFieldProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    const number = draft === null || draft.trim() === '' ? NaN : Number(draft.replace(',', '.'));
    setDraft(null);
    if (Number.isFinite(number) && number !== value) onCommit(number);
  };
  return (
    <Box as="label" display="block" flex="1 1 72px" minW="72px" maxW="96px">
      <Text as="span" fontSize="xs" color="softInk">
        {label}, {unit}
      </Text>
      <Input
        size="sm"
        minH="40px"
        inputMode="decimal"
        borderColor="seam"
        value={draft ?? String(Number(value.toFixed(digits)))}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === 'Enter') commit();
          if (event.key === 'Escape') setDraft(null);
        }}
      />
    </Box>
  );
}
