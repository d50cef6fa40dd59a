'use client';
import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { v4 as uuidv4 } from 'uuid';
import { messageOf } from '../api';
import { PrimaryButton, QuietButton, Trouble } from '../controls';
import { Tick } from '../tick';
import { ChosenFiles, pastedFiles, withFiles } from './chosen-files';
import { NamingField } from './naming-field';
import { sendComment } from './send-comment';

interface AnswerFormProps {
  /** Address of the project's API. */
  base: string;
  comment: { id: string; number: number | null };
  names: readonly string[];
  /** What is seen now, where there is a model to look at: it can go along. */
  seen?: () => Promise<object>;
  /** The answer is stored. */
  onSent: () => void;
  onCancel: () => void;
}

/** Answers a comment, with pictures and files. */
export function AnswerForm({ base, comment, names, seen, onSent, onCancel }: AnswerFormProps) {
  const [key] = useState(() => uuidv4());
  const [text, setText] = useState('');
  const [files, setFiles] = useState<File[]>([]);
  const [isShown, setShown] = useState(false);
  const [isBusy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const send = async () => {
    if (!text.trim()) return;
    setBusy(true);
    const left = [...files];
    try {
      const view = isShown && seen ? await seen() : {};
      await sendComment(base, { text: text.trim(), replyTo: comment.id, ...view }, key, left);
      onSent();
    } catch (error) {
      setFiles(left);
      setTrouble(messageOf(error));
      setBusy(false);
    }
  };
  return (
    <Box mt="2">
      <NamingField
        aria-label={`Answer to comment ${comment.number}`}
        autoFocus
        rows={2}
        bg="wool"
        value={text}
        names={names}
        onChange={setText}
        onPaste={(event) => setFiles(withFiles(files, pastedFiles(event)))}
        onKeyDown={(event) => {
          if (event.key === 'Escape') onCancel();
          else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void send();
        }}
      />
      {seen ? (
        <Tick checked={isShown} onTick={setShown} mt="1">
          With what I see now
        </Tick>
      ) : null}
      <Trouble text={trouble} />
      <Flex gap="2" mt="1" wrap="wrap" align="center">
        <Box flex="1">
          <ChosenFiles files={files} onChange={setFiles} />
        </Box>
        <QuietButton size="sm" minH="38px" onClick={onCancel}>
          Cancel
        </QuietButton>
        <PrimaryButton
          bg="indigo"
          size="sm"
          minH="38px"
          disabled={!text.trim()}
          loading={isBusy}
          onClick={() => void send()}
        >
          Send
        </PrimaryButton>
      </Flex>
    </Box>
  );
}
