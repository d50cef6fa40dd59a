'use client';
import { Box, Flex, Grid, Text, Textarea } from '@chakra-ui/react';
import { Trash2 } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import {
  INK_COLOURS,
  INK_WORDS,
  INKS,
  MARK_KINDS,
  MARK_WORDS,
  MOST_MARK_TEXT,
  PEN_WORDS,
  PENS,
  type Ink,
  type MarkKind,
  type Pen,
} from '@/core/mark/marks';
import { PrimaryButton } from '../../../controls';
import { useReview, useSession } from '../../session-context';
import { TrayAct, TrayCard } from '../tray';
import { penStore } from './marking';

const HINTS: Record<MarkKind, string> = {
  cloud: 'Drag a cloud about what you mean.',
  arrow: 'Drag to what you mean.',
  rectangle: 'Drag from corner to corner.',
  text: 'Tap where words are to stand.',
  free: 'Draw.',
  surface: 'Draw on the model: it stays there when you move on.',
};

/** Pen dots, as wide as the pens are on a screen. */
const DOTS: Record<Pen, number> = { fine: 4, medium: 8, broad: 14 };

/** What is drawn, with which ink and pen; and what is taken hold of. */
export function MarkTray() {
  const session = useSession();
  const { marking } = session;
  const hand = useStore(penStore);
  const { chosen: chosenId, writing } = useStore(marking.store);
  const marks = useReview((state) => state.view.marks);
  const chosen = marks.find(({ id }) => id === chosenId) ?? null;
  const mayChange = chosen !== null && marking.mayChange(chosen);
  useEffect(() => () => marking.choose(null), [marking]);
  const set = (change: { ink?: Ink; pen?: Pen }) => {
    penStore.setState(change);
    if (mayChange) marking.change((mark) => ({ ...mark, ...change }));
  };
  const shown = mayChange ? chosen : hand;
  return (
    <TrayCard label="Mark" width="312px">
      <Grid templateColumns="repeat(3, 1fr)" gap="1" role="group" aria-label="What is drawn">
        {MARK_KINDS.map((kind) => (
          <TrayAct
            key={kind}
            pressed={kind === hand.kind}
            onClick={() => {
              penStore.setState({ kind });
              marking.choose(null);
            }}
          >
            {MARK_WORDS[kind]}
          </TrayAct>
        ))}
      </Grid>
      <Flex mt="3" gap="1" role="group" aria-label="Ink">
        {INKS.map((ink) => (
          <TrayAct key={ink} pressed={ink === shown.ink} hint={INK_WORDS[ink]} onClick={() => set({ ink })}>
            <Box w="18px" h="18px" borderRadius="50%" borderWidth="1px" borderColor="seam" bg={INK_COLOURS[ink]}>
              <Text as="span" srOnly>
                {INK_WORDS[ink]}
              </Text>
            </Box>
          </TrayAct>
        ))}
      </Flex>
      <Flex mt="2" gap="1" role="group" aria-label="Pen">
        {PENS.map((pen) => (
          <TrayAct key={pen} pressed={pen === shown.pen} hint={PEN_WORDS[pen]} onClick={() => set({ pen })}>
            <Box w={`${DOTS[pen]}px`} h={`${DOTS[pen]}px`} borderRadius="50%" bg="ink" mr="2" />
            {PEN_WORDS[pen]}
          </TrayAct>
        ))}
      </Flex>
      {writing || (mayChange && chosen?.kind === 'text') ? (
        <Words
          key={chosen?.id ?? writing?.join()}
          text={chosen?.text ?? ''}
          onWritten={(text) => marking.write(text)}
        />
      ) : (
        <Text fontSize="sm" mt="2.5" role="status">
          {chosen ? chosenWords(mayChange, chosen.by.name) : HINTS[hand.kind]}
        </Text>
      )}
      <Flex mt="2" gap="1" wrap="wrap">
        {mayChange ? (
          <TrayAct hint="Delete (Delete)" onClick={() => marking.remove()}>
            <Trash2 size={16} aria-hidden /> Delete
          </TrayAct>
        ) : null}
        {marks.length > 0 ? (
          <TrayAct hint="Take away what is drawn" onClick={() => marking.removeAll()}>
            Clear all
          </TrayAct>
        ) : null}
      </Flex>
    </TrayCard>
  );
}

function chosenWords(mayChange: boolean, by: string): string {
  return mayChange ? 'Drag it, or its ends; arrow keys move it too.' : `Drawn by ${by}; the lead can change it.`;
}

/** Words for a place of the picture. */
function Words({ text, onWritten }: { text: string; onWritten: (text: string) => void }) {
  const { marking } = useSession();
  const [value, setValue] = useState(text);
  const field = useRef<HTMLTextAreaElement>(null);
  useEffect(() => field.current?.focus(), []);
  return (
    <Box mt="2.5">
      <Textarea
        ref={field}
        aria-label="Words"
        rows={2}
        value={value}
        maxLength={MOST_MARK_TEXT}
        borderColor="seam"
        onChange={(event) => setValue(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Escape') marking.choose(null);
          if (event.key !== 'Enter' || event.shiftKey) return;
          event.preventDefault();
          onWritten(value);
        }}
      />
      <PrimaryButton mt="2" size="sm" minH="38px" disabled={!value.trim()} onClick={() => onWritten(value)}>
        Write
      </PrimaryButton>
    </Box>
  );
}
