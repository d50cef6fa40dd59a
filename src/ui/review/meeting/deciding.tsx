'use client';
import { Box, Button, Flex, Popover, Portal, Text, Textarea } from '@chakra-ui/react';
import { useState } from 'react';
import { v4 as uuidv4 } from 'uuid';
import type { Comment } from '@/core/project/comment';
import type { ViewpointCard } from '@/core/project/viewpoint-card';
import { PrimaryButton, QuietButton } from '../../controls';
import { useReview, useSession } from '../session-context';

/** One sentence, and a little more. */
const MOST = 500;

interface DecidingProps {
  card: ViewpointCard;
  /** Without what was decided, where there is no room for it. */
  isShort: boolean;
}

/** Under the question of a viewpoint: what was decided, and for whoever leads the place to write it down. */
export function Deciding({ card, isShort }: DecidingProps) {
  const session = useSession();
  const comments = useReview((state) => state.comments);
  const lead = useReview((state) => state.agreed?.lead);
  const decisions = comments.filter(({ viewpointId }) => viewpointId === card.id);
  const last = decisions.at(-1);
  const mayDecide = lead === session.start.you.id;
  if ((!last || isShort) && !mayDecide) return null;
  return (
    <Flex align="center" gap="1" mt={{ md: '1' }} minH="30px">
      {last && !isShort ? (
        <Text fontSize="sm" color="ink" fontWeight="bold" truncate flex="1" title={last.text} dir="auto">
          Decided: {last.text}
        </Text>
      ) : null}
      {mayDecide ? <WriteDown key={card.id} card={card} isFirst={!last} /> : null}
    </Flex>
  );
}

function WriteDown({ card, isFirst }: { card: ViewpointCard; isFirst: boolean }) {
  const session = useSession();
  const [isOpen, setOpen] = useState(false);
  const [key, setKey] = useState(() => uuidv4());
  const [text, setText] = useState('');
  const [isBusy, setBusy] = useState(false);
  const decide = async () => {
    if (!text.trim()) return;
    setBusy(true);
    if (await session.records.decide(text.trim(), card.id, key)) {
      setOpen(false);
      setText('');
      setKey(uuidv4());
    }
    setBusy(false);
  };
  return (
    <Popover.Root open={isOpen} onOpenChange={({ open }) => setOpen(open)} positioning={{ placement: 'top-start' }}>
      <Popover.Trigger asChild>
        <Button
          size="sm"
          h="30px"
          minH="30px"
          px="3"
          bg="ink"
          color="wool"
          borderRadius="pill"
          css={{ '@media (pointer: coarse)': { h: '44px' } }}
        >
          {isFirst ? 'Decide' : 'Again'}
        </Button>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content bg="card" borderRadius="card" borderWidth="1px" borderColor="seam" w="340px" maxW="94vw">
            <Popover.Body>
              <Popover.Title fontWeight="bold" mb="2">
                {card.question || card.name}
              </Popover.Title>
              <Textarea
                aria-label="What was decided, in one sentence"
                placeholder="What was decided, in one sentence"
                rows={3}
                dir="auto"
                maxLength={MOST}
                bg="wool"
                borderColor="seam"
                value={text}
                onChange={(event) => setText(event.target.value)}
                onKeyDown={(event) => event.key === 'Enter' && (event.ctrlKey || event.metaKey) && void decide()}
              />
              <Text fontSize="xs" color="softInk" mt="1">
                What is seen now goes with it. Everybody here is asked to confirm it.
              </Text>
              <Flex gap="2" mt="3" justify="end">
                <QuietButton onClick={() => setOpen(false)}>Cancel</QuietButton>
                <PrimaryButton disabled={!text.trim()} loading={isBusy} onClick={() => void decide()}>
                  Write down
                </PrimaryButton>
              </Flex>
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}

/** Over the model: what was decided in this meeting and this person has not confirmed yet; for the lead, who has. */
export function DecisionsToConfirm() {
  const session = useSession();
  const comments = useReview((state) => state.comments);
  const meeting = useReview((state) => state.meeting);
  const agreed = useReview((state) => state.agreed);
  const [put, setPut] = useState<readonly string[]>([]);
  if (!meeting || !agreed) return null;
  const you = session.start.you.id;
  const here = agreed.participants.filter(({ present }) => present);
  const others = here.filter(({ id }) => id !== you);
  // Who has confirmed and left since counts as well.
  const asked = (comment: Comment) => new Set([...others, ...comment.confirmedBy].map(({ id }) => id));
  const waits = (comment: Comment) =>
    comment.kind === 'decision' &&
    comment.meetingId === meeting.id &&
    !put.includes(comment.id) &&
    (comment.isOwn
      ? others.some(({ id }) => !comment.confirmedBy.some((one) => one.id === id))
      : !comment.confirmedBy.some(({ id }) => id === you));
  const waiting = comments.filter(waits).slice(-2);
  return waiting.map((comment) => (
    <Flex
      key={comment.id}
      role="group"
      aria-label={`Decision ${comment.number}`}
      bg="card"
      borderWidth="2px"
      borderColor="ink"
      borderRadius="card"
      boxShadow="card"
      px="4"
      py="2"
      gap="3"
      align="center"
      w="min(460px, 92vw)"
      wrap={{ base: 'wrap', sm: 'nowrap' }}
    >
      <Box flex="1" minW="160px">
        <Text fontSize="xs" color="softInk">
          Decision {comment.number}, {comment.author}
        </Text>
        <Text fontWeight="bold" dir="auto" wordBreak="break-word">
          {comment.text}
        </Text>
        {comment.isOwn ? (
          <Text fontSize="sm" color="softInk">
            Confirmed by {comment.confirmedBy.length} of {asked(comment).size}
          </Text>
        ) : null}
      </Box>
      {comment.isOwn ? null : (
        <PrimaryButton bg="ink" color="wool" onClick={() => void session.records.confirm(comment.id)}>
          Confirm
        </PrimaryButton>
      )}
      <QuietButton onClick={() => setPut([...put, comment.id])}>{comment.isOwn ? 'Close' : 'Not now'}</QuietButton>
    </Flex>
  ));
}
