'use client';
import { Box, Button, Flex, Text, Textarea } from '@chakra-ui/react';
import { Expand, MessageCircle, Move, Undo2 } from 'lucide-react';
import { useEffect, useState, type ReactNode } from 'react';
import { Card, PrimaryButton, QuietButton } from '../pieces';
import type { Verb } from './review-state';
import { useReview, useSession } from './session-context';

/** The column of verbs, one at a time; the chosen verb's tray stands beside it. */
export function Verbs() {
  const session = useSession();
  const verb = useReview((state) => state.verb);
  const draft = useReview((state) => state.draft);
  useReview((state) => state.visibility);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.matches('input, textarea, select, [contenteditable]'))
        return;
      if (event.ctrlKey || event.metaKey) {
        if (event.key === 'z') session.view.undo();
        return;
      }
      if (event.key === 'm') session.setVerb('move');
      if (event.key === 's' && session.start.rights.comment) session.setVerb('say');
      if (event.key === 'w') session.view.showWhole();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [session]);

  return (
    <Flex
      data-covers
      position="absolute"
      zIndex="10"
      left={{ base: '50%', md: '20px' }}
      top={{ md: '112px' }}
      bottom={{ base: '12px', md: 'auto' }}
      transform={{ base: 'translateX(-50%)', md: 'none' }}
      direction={{ base: 'column-reverse', md: 'row' }}
      gap="3"
      align={{ base: 'center', md: 'start' }}
    >
      <Card as="nav" aria-label="Verbs" p="1.5" display="flex" flexDirection={{ base: 'row', md: 'column' }} gap="1">
        <VerbButton verb="move" label="Move" hint="M" active={verb === 'move'} icon={<Move size={22} aria-hidden />} />
        {session.start.rights.comment ? (
          <VerbButton
            verb="say"
            label="Say"
            hint="S"
            active={verb === 'say'}
            icon={<MessageCircle size={22} aria-hidden />}
          />
        ) : null}
        <SideAct
          label="Whole"
          hint="See the whole model (W)"
          icon={<Expand size={22} aria-hidden />}
          onClick={() => session.view.showWhole()}
        />
        <SideAct
          label="Undo"
          hint="Undo what was hidden or shown (Ctrl Z)"
          icon={<Undo2 size={22} aria-hidden />}
          disabled={!session.view.canUndo}
          onClick={() => session.view.undo()}
        />
      </Card>
      {verb === 'say' ? (
        draft ? (
          <SayTray key={draft.element.guid} name={draft.name} />
        ) : (
          <Hint text="Point at what you mean." />
        )
      ) : null}
    </Flex>
  );
}

function VerbButton({
  verb,
  label,
  hint,
  active,
  icon,
}: {
  verb: Verb;
  label: string;
  hint: string;
  active: boolean;
  icon: ReactNode;
}) {
  const session = useSession();
  return (
    <Button
      aria-pressed={active}
      title={`${label} (${hint})`}
      onClick={() => session.setVerb(verb)}
      variant="ghost"
      flexDirection="column"
      gap="1"
      w="60px"
      h="58px"
      borderRadius="14px"
      bg={active ? 'ink' : 'transparent'}
      color={active ? 'wool' : 'ink'}
      _hover={{ bg: active ? 'ink' : 'felt' }}
    >
      {icon}
      <Text fontSize="sm">{label}</Text>
    </Button>
  );
}

function SideAct({
  label,
  hint,
  icon,
  disabled,
  onClick,
}: {
  label: string;
  hint: string;
  icon: ReactNode;
  disabled?: boolean;
  onClick: () => void;
}) {
  return (
    <Button
      title={hint}
      onClick={onClick}
      disabled={disabled}
      variant="ghost"
      flexDirection="column"
      gap="1"
      w="60px"
      h="58px"
      borderRadius="14px"
      color="ink"
      _hover={{ bg: 'felt' }}
    >
      {icon}
      <Text fontSize="sm">{label}</Text>
    </Button>
  );
}

function Hint({ text }: { text: string }) {
  return (
    <Card px="4" py="3" role="status">
      <Text fontSize="sm">{text}</Text>
    </Card>
  );
}

function SayTray({ name }: { name: string }) {
  const session = useSession();
  const [text, setText] = useState('');
  const [busy, setBusy] = useState(false);
  const send = async () => {
    if (!text.trim()) return;
    setBusy(true);
    if (!(await session.say(text.trim()))) setBusy(false);
  };
  return (
    <Card p="4" w="300px">
      <Text fontSize="sm" color="softInk" mb="2">
        About <b>{name}</b>
      </Text>
      <Textarea
        aria-label="Your comment"
        autoFocus
        value={text}
        maxLength={4000}
        rows={3}
        bg="wool"
        borderColor="seam"
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) =>
          event.key === 'Escape'
            ? session.setVerb('move')
            : event.key === 'Enter' && (event.ctrlKey || event.metaKey)
              ? void send()
              : undefined
        }
      />
      <Flex gap="2" mt="3" justify="end">
        <QuietButton onClick={() => session.setVerb('move')}>Leave it</QuietButton>
        <PrimaryButton bg="indigo" onClick={send} loading={busy} disabled={!text.trim()}>
          Say
        </PrimaryButton>
      </Flex>
      <Box fontSize="xs" color="softInk" mt="2">
        The place and this view go with it.
      </Box>
    </Card>
  );
}
