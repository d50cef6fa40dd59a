'use client';
import { Box, Flex, Textarea } from '@chakra-ui/react';
import { useState } from 'react';
import { PrimaryButton, QuietButton } from '../controls';

interface WordsFieldProps {
  label: string;
  /** As they stand. */
  words: string;
  onSave: (words: string) => void;
  onCancel: () => void;
}

/** What somebody has said, to be said otherwise. */
export function WordsField({ label, words, onSave, onCancel }: WordsFieldProps) {
  const [draft, setDraft] = useState(words);
  const save = () => draft.trim() && onSave(draft.trim());
  return (
    <Box>
      <Textarea
        aria-label={label}
        autoFocus
        rows={3}
        dir="auto"
        maxLength={4000}
        borderColor="seam"
        value={draft}
        onChange={(event) => setDraft(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Escape') onCancel();
          else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) save();
        }}
      />
      <Flex gap="2" mt="2">
        <PrimaryButton size="sm" minH="38px" disabled={!draft.trim()} onClick={save}>
          Save
        </PrimaryButton>
        <QuietButton size="sm" minH="38px" onClick={onCancel}>
          Cancel
        </QuietButton>
      </Flex>
    </Box>
  );
}
