'use client';
import { Box, Button, Flex, Textarea, type TextareaProps } from '@chakra-ui/react';
import { useRef, useState, type KeyboardEvent } from 'react';
import { mentionAt } from '@/core/project/mentions';

interface NamingFieldProps extends Omit<TextareaProps, 'onChange' | 'value'> {
  value: string;
  /** Names of those who can be named by @. */
  names: readonly string[];
  onChange: (text: string) => void;
}

/** As many names are offered. */
const OFFERED = 5;

/** A field for words in which people are named by @: while one writes a name, those that begin like it are offered below. */
export function NamingField({ value, names, onChange, onKeyDown, ...field }: NamingFieldProps) {
  const area = useRef<HTMLTextAreaElement>(null);
  const offers = useRef<HTMLDivElement>(null);
  const [caret, setCaret] = useState(0);
  const naming = mentionAt(value, caret);
  const wanted = naming?.words.toLocaleLowerCase() ?? '';
  const offered = naming
    ? names
        .filter((name) => name.toLocaleLowerCase().startsWith(wanted) && name.toLocaleLowerCase() !== wanted)
        .slice(0, OFFERED)
    : [];
  const take = (name: string) => {
    if (!naming) return;
    const before = `${value.slice(0, naming.from)}@${name} `;
    onChange(before + value.slice(caret));
    setCaret(before.length);
    requestAnimationFrame(() => {
      area.current?.focus();
      area.current?.setSelectionRange(before.length, before.length);
    });
  };
  const keys = (event: KeyboardEvent<HTMLTextAreaElement>) => {
    if (event.key === 'ArrowDown' && offered.length > 0) {
      event.preventDefault();
      offers.current?.querySelector('button')?.focus();
    } else onKeyDown?.(event);
  };
  return (
    <Box>
      <Textarea
        ref={area}
        dir="auto"
        maxLength={4000}
        borderColor="seam"
        value={value}
        onChange={(event) => {
          onChange(event.target.value);
          setCaret(event.target.selectionStart);
        }}
        onSelect={(event) => setCaret(event.currentTarget.selectionStart)}
        onKeyDown={keys}
        {...field}
      />
      {offered.length > 0 ? (
        <Flex ref={offers} role="group" aria-label="Name somebody" gap="1" mt="1" wrap="wrap">
          {offered.map((name) => (
            <Button
              key={name}
              size="sm"
              minH="36px"
              variant="outline"
              borderColor="seam"
              borderRadius="pill"
              color="ink"
              onClick={() => take(name)}
            >
              @{name}
            </Button>
          ))}
        </Flex>
      ) : null}
    </Box>
  );
}
