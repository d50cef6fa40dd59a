'use client';
import { Button, Flex, Text } from '@chakra-ui/react';
import { Paperclip, X } from 'lucide-react';
import { useRef, type ClipboardEvent } from 'react';
import { MOST_ATTACHMENT_BYTES, MOST_ATTACHMENTS } from '@/core/project/comment';

/** Those of some files that may go along with a comment, together with those that are chosen already. */
export function withFiles(chosen: readonly File[], more: readonly File[]): File[] {
  return [...chosen, ...more.filter(({ size }) => size > 0 && size <= MOST_ATTACHMENT_BYTES)].slice(
    0,
    MOST_ATTACHMENTS,
  );
}

/** Files that somebody pastes, such as a picture of their screen. */
export function pastedFiles(event: ClipboardEvent): File[] {
  return Array.from(event.clipboardData.files);
}

/** Pictures and files that are to go along with what is being written. */
export function ChosenFiles({ files, onChange }: { files: readonly File[]; onChange: (files: File[]) => void }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <Flex gap="1" wrap="wrap" align="center">
      <Button variant="ghost" size="sm" color="softInk" px="2" minH="38px" onClick={() => input.current?.click()}>
        <Paperclip size={16} aria-hidden /> Picture or file
      </Button>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label="Pictures and files"
        onChange={(event) => {
          onChange(withFiles(files, Array.from(event.target.files ?? [])));
          event.target.value = ''; // the same file can be chosen again
        }}
      />
      {files.map((file, i) => (
        <Flex key={`${file.name} ${i}`} align="center" bg="felt" borderRadius="pill" pl="3" maxW="200px">
          <Text fontSize="sm" truncate title={file.name}>
            {file.name}
          </Text>
          <Button
            variant="ghost"
            size="sm"
            minW="36px"
            px="0"
            color="softInk"
            aria-label={`Leave out ${file.name}`}
            onClick={() => onChange(files.filter((other) => other !== file))}
          >
            <X size={14} aria-hidden />
          </Button>
        </Flex>
      ))}
    </Flex>
  );
}
