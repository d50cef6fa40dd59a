'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { Search } from 'lucide-react';
import { lazy, Suspense, useEffect, useState } from 'react';
import { IconButton, QuietButton } from '../../controls';
import { useIsPhone } from '../../use-is-phone';
import { useReview, useSession } from '../session-context';

const PlayButton = lazy(() => import('./play-button').then((module) => ({ default: module.PlayButton })));

const Deciding = lazy(() => import('../meeting/deciding').then((module) => ({ default: module.Deciding })));

const TELL_MS = 10_000;

/** What shows, what is to be decided and how much time is left; one card back and forth; play and find. */
export function OrderHead({ isFinding, onFind }: { isFinding: boolean; onFind: () => void }) {
  const session = useSession();
  const isPhone = useIsPhone();
  const viewpoints = useReview((state) => state.viewpoints);
  const current = useReview((state) => state.viewpoint);
  const at = viewpoints.findIndex((viewpoint) => viewpoint.id === current);
  const card = viewpoints[at];
  const isMeeting = useReview((state) => state.agreed !== null);
  const hasDecision = useReview((state) => state.comments.some(({ viewpointId }) => viewpointId === card?.id));
  const count = viewpoints.length;
  const deciding =
    card && (isMeeting || hasDecision) ? (
      <Suspense>
        <Deciding card={card} isShort={isPhone} />
      </Suspense>
    ) : null;
  return (
    <Flex
      direction={{ base: 'row', md: 'column' }}
      justify="space-between"
      p={{ base: '2', md: '3' }}
      w={{ md: '214px' }}
      flexShrink="0"
      gap="1"
      align={{ base: 'center', md: 'stretch' }}
    >
      <Box display={{ base: 'none', md: 'block' }} minH="0" overflow="hidden">
        <Text fontSize="sm" color="softInk" truncate>
          {count === 0 ? 'Running order' : at < 0 ? `${count} viewpoints` : `${at + 1} of ${count}`}
          {card?.minutes && session.start.rights.arrange ? <TimeLeft minutes={card.minutes} /> : null}
        </Text>
        <Text fontWeight="bold" lineHeight="1.25" lineClamp={2} title={card?.question || card?.name}>
          {card?.question || card?.name || (count === 0 ? 'Save the first view' : 'Free view')}
        </Text>
        {isPhone ? null : deciding}
      </Box>
      <Flex gap="1" align="center">
        <QuietButton px="3" disabled={count === 0 || at === 0} onClick={() => session.view.stepViewpoint(-1)}>
          Back
        </QuietButton>
        <QuietButton
          px="3"
          bg="ink"
          color="wool"
          _hover={{ bg: 'softInk' }}
          disabled={count === 0 || at === count - 1}
          onClick={() => session.view.stepViewpoint(1)}
        >
          Next
        </QuietButton>
        {isPhone ? (
          deciding
        ) : (
          <>
            <Suspense fallback={<Box w="36px" />}>
              <PlayButton disabled={count === 0} />
            </Suspense>
            <IconButton label="Find a viewpoint" minW="36px" w="36px" aria-pressed={isFinding} onClick={onFind}>
              <Search size={17} aria-hidden />
            </IconButton>
          </>
        )}
      </Flex>
    </Flex>
  );
}

/** Of the time that the viewpoint was given, for whoever leads. */
function TimeLeft({ minutes }: { minutes: number }) {
  const since = useReview((state) => state.viewpointSince);
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), TELL_MS);
    return () => clearInterval(timer);
  }, []);
  const left = minutes - Math.max(0, now - (since ?? now)) / 60_000;
  return (
    <Box
      as="span"
      color={left < 0 ? 'madder' : left < 1 ? 'ochre' : 'softInk'}
      fontWeight={left < 1 ? 'bold' : 'normal'}
    >
      {left < 0 ? ` · ${Math.ceil(-left)} min over` : ` · ${Math.ceil(left)} min left`}
    </Box>
  );
}
