'use client';
import { Compass } from 'lucide-react';
import { lazy, Suspense } from 'react';
import { Card, IconButton } from '../../controls';
import { useReview, useSession } from '../session-context';
import { useLevelOfEyes } from './use-level-of-eyes';
import { useLevels } from './use-levels';

const OpenCrown = lazy(() => import('./open-crown').then((module) => ({ default: module.OpenCrown })));

/** Where one is: the storey's plan as a live map, north, the sun's way, the ladder of storeys. Folds to a coin. */
export function Crown() {
  const session = useSession();
  const shape = useReview((state) => state.crown);
  const levels = useLevels();
  const level = useLevelOfEyes(levels);
  if (levels === null) return null;
  const show = (crown: typeof shape) => session.store.setState({ crown });
  if (shape === 'coin') return <Coin onOpen={() => show('crown')} />;
  return (
    <Suspense>
      <OpenCrown levels={levels} {...level} isWide={shape === 'panel'} onShow={show} />
    </Suspense>
  );
}

function Coin({ onOpen }: { onOpen: () => void }) {
  return (
    <Card
      position="absolute"
      zIndex="10"
      top={{ base: '64px', md: '76px' }}
      left={{ base: '8px', md: 'auto' }}
      right={{ md: '352px' }}
      borderRadius="50%"
    >
      <IconButton label="Open the plan" w="50px" h="50px" onClick={onOpen}>
        <Compass size={26} aria-hidden />
      </IconButton>
    </Card>
  );
}
