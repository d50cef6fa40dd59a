'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { ArrowUpFromLine } from 'lucide-react';
import { useEffect, useState } from 'react';
import { BODY_KINDS, BODY_WORDS, heightOf, type BodyKind, type Pace } from '@/core/walk/body';
import type { Hindrance } from '@/core/walk/walk';
import type { Gait } from '@/stage/walking/walking';
import { Card, QuietButton, TOUCHED } from '../../controls';
import { bodyOf, eyeHeight, stanceStore, useStance, type Stance } from '../../stance';
import { useReview, useSession } from '../session-context';
import { NumberField } from '../tools/number-field';
import { SmallSelect } from '../../small-select';

/** How long it is said how one goes on. */
const HINT_MS = 7000;

const PACE_WORDS: Record<Pace, string> = { slow: 'Slowly', walk: 'Walking', brisk: 'Briskly' };

/** While somebody stands or flies in the model: as whom, how fast, and the way back up. */
export function StandingBar() {
  const session = useSession();
  const gait = useReview((state) => state.gait);
  const hindrance = useReview((state) => state.hindrance);
  const stance = useStance();
  const [isNew, setNew] = useState(true);
  useEffect(() => {
    if (!gait) return;
    setNew(true);
    const timer = setTimeout(() => setNew(false), HINT_MS);
    return () => clearTimeout(timer);
  }, [gait]);
  if (!gait) return null;
  const told = hindrance && words(hindrance, stance);
  return (
    <Flex
      position="absolute"
      zIndex="10"
      // On a phone between the coin of the plan and the drawer.
      left={{ base: '64px', md: '50%' }}
      transform={{ md: 'translateX(-50%)' }}
      top={{ base: '62px', md: '84px' }}
      direction="column"
      align={{ base: 'start', md: 'center' }}
      gap="2"
      maxW={{ base: 'calc(100vw - 176px)', md: 'calc(100vw - 16px)' }}
    >
      <Card
        role="group"
        aria-label={gait === 'walk' ? 'You stand in the model' : 'You fly'}
        display="flex"
        alignItems="center"
        gap="2"
        p="1.5"
        borderRadius="pill"
      >
        <QuietButton px="3" title="Back up to where you came from" onClick={() => session.moving.rise()}>
          <ArrowUpFromLine size={18} aria-hidden />
          Rise
        </QuietButton>
        <Flex w={{ base: '104px', md: '150px' }}>
          <SmallSelect
            label="Eye height"
            value={stance.kind}
            options={[
              ...BODY_KINDS.map((kind) => [kind, `${BODY_WORDS[kind]}, ${eyes({ ...stance, kind })}`] as const),
              ['own', `Own, ${eyes({ ...stance, kind: 'own' })}`] as const,
            ]}
            onChange={(kind) => stanceStore.setState({ kind: kind as BodyKind | 'own' })}
          />
        </Flex>
        {stance.kind === 'own' ? (
          <NumberField
            label="Eyes"
            unit="m"
            value={stance.eye}
            digits={2}
            onCommit={(eye) => stanceStore.setState({ eye: eyeHeight(eye) })}
          />
        ) : null}
        <Flex w="112px" display={{ base: 'none', md: 'flex' }}>
          <SmallSelect
            label="Pace"
            value={stance.pace}
            options={Object.entries(PACE_WORDS)}
            onChange={(pace) => stanceStore.setState({ pace: pace as Pace })}
          />
        </Flex>
      </Card>
      <Text
        role="status"
        fontSize="sm"
        px="3"
        py="0.5"
        borderRadius="pill"
        bg={told || isNew ? 'card' : 'transparent'}
        color="ink"
      >
        {told ?? (isNew ? <Hint gait={gait} /> : null)}
      </Text>
    </Flex>
  );
}

/** How one goes on, for whoever stands there for the first time. */
function Hint({ gait }: { gait: Gait }) {
  return (
    <>
      <Box as="span" css={{ [TOUCHED]: { display: 'none' } }}>
        {gait === 'walk'
          ? 'Arrow keys walk, a drag looks about.'
          : 'Arrow keys fly, Page Up and Page Down rise and sink.'}
      </Box>
      <Box as="span" display="none" css={{ [TOUCHED]: { display: 'inline' } }}>
        The left thumb walks, the right one looks about.
      </Box>
    </>
  );
}

function eyes(stance: Stance): string {
  return `${bodyOf(stance).eye.toFixed(2)} m`;
}

function words(by: Hindrance, stance: Stance): string | null {
  if (by === 'head') return `No head room here: ${heightOf(bodyOf(stance)).toFixed(2)} m are needed.`;
  if (by === 'low') return `Low here: less than ${heightOf(bodyOf(stance)).toFixed(2)} m. You stoop.`;
  if (by === 'nothing-below') return 'Nothing is below there. You stay where you stand.';
  if (by === 'waits') return 'The floor ahead is still arriving …';
  return null;
}
