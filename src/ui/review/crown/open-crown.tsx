'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { Maximize2, Minimize2, X } from 'lucide-react';
import { lazy, Suspense } from 'react';
import { clock, shortDayText } from '@/core/sun/calendar';
import { Card, IconButton } from '../../controls';
import { useIsPhone } from '../../use-is-phone';
import { OpenBeside } from '../beside/open-beside';
import type { ReviewState } from '../review-state';
import { useReview } from '../session-context';
import { CrownMap } from './crown-map';
import { Ladder } from './ladder';
import { WideMap, type MapProps } from './wide-map';

const SunRing = lazy(() => import('./sun-ring').then((module) => ({ default: module.SunRing })));

/** Pixels: the crown with its ring, and the map in it. */
const SIZE = 208;
const RING = 22;

interface OpenCrownProps extends MapProps {
  isWide: boolean;
  onShow: (shape: ReviewState['crown']) => void;
}

/** The crown while it is not a coin: round, or as wide as there is room. */
export function OpenCrown({ isWide, onShow, ...map }: OpenCrownProps) {
  return isWide ? (
    <Panel {...map} onFold={() => onShow('crown')} onClose={() => onShow('coin')} />
  ) : (
    <Round {...map} onWiden={() => onShow('panel')} onFold={() => onShow('coin')} />
  );
}

interface ShapeProps extends MapProps {
  onFold: () => void;
}

/** On a phone it takes the lower half of the screen. */
function Round({ onWiden, onFold, ...map }: ShapeProps & { onWiden: () => void }) {
  const isPhone = useIsPhone();
  return isPhone ? (
    <Half {...map} onFold={onFold} />
  ) : (
    <Flex
      as="section"
      aria-label="Plan"
      data-covers
      position="absolute"
      zIndex="10"
      top="76px"
      right="20px"
      gap="2"
      align="start"
    >
      <Flex direction="column" gap="1" align="end">
        <Flex gap="1">
          <Card borderRadius="pill">
            <IconButton label="Make the plan large" minW="34px" w="34px" h="34px" onClick={onWiden}>
              <Maximize2 size={15} aria-hidden />
            </IconButton>
          </Card>
          <Card borderRadius="pill">
            <IconButton label="Fold the plan" minW="34px" w="34px" h="34px" onClick={onFold}>
              <X size={15} aria-hidden />
            </IconButton>
          </Card>
        </Flex>
        <Ladder levels={map.levels} at={map.at} onChoose={map.onChoose} most={SIZE - 44} />
      </Flex>
      <Instrument {...map} />
    </Flex>
  );
}

/** The round map in its ring. */
function Instrument({ levels, at, onStep }: MapProps) {
  const { site } = useReview((state) => state.site);
  const light = useReview((state) => state.view.light);
  const north = site?.north ?? 0;
  const inner = SIZE - 2 * RING;
  const [nx, ny] = [SIZE / 2 - Math.sin(north) * (SIZE / 2 - 11), SIZE / 2 - Math.cos(north) * (SIZE / 2 - 11)];
  return (
    <Box position="relative" w={`${SIZE}px`} h={`${SIZE}px`}>
      <Card position="absolute" inset="0" borderRadius="50%" />
      <Box
        position="absolute"
        left={`${RING}px`}
        top={`${RING}px`}
        borderRadius="50%"
        boxShadow="0 0 0 1.5px var(--chakra-colors-ink)"
      >
        <CrownMap levels={levels} at={at} width={inner} height={inner} isRound onStep={onStep} />
      </Box>
      <svg
        width={SIZE}
        height={SIZE}
        style={{ position: 'absolute', inset: 0, overflow: 'visible', pointerEvents: 'none' }}
      >
        <text
          x={nx}
          y={ny}
          dy="4"
          textAnchor="middle"
          style={{ fontSize: 12, fontWeight: 700, fill: 'var(--chakra-colors-ink)' }}
        >
          N
        </text>
        {site ? (
          <g style={{ pointerEvents: 'auto' }}>
            <Suspense>
              <SunRing site={site} size={SIZE} radius={SIZE / 2 - 11} />
            </Suspense>
          </g>
        ) : null}
      </svg>
      {light.at ? (
        <Text
          position="absolute"
          left="50%"
          bottom={`${RING + 4}px`}
          transform="translateX(-50%)"
          px="2"
          borderRadius="pill"
          bg="card"
          fontSize="11px"
          color="softInk"
          whiteSpace="nowrap"
          pointerEvents="none"
        >
          {shortDayText(light.at.date)} · {clock(light.at.minutes)}
        </Text>
      ) : null}
    </Box>
  );
}

/** The plan over most of the picture. */
function Panel({ onFold, onClose, ...map }: ShapeProps & { onClose: () => void }) {
  return (
    <Card
      as="section"
      aria-label="Plan"
      data-covers
      position="absolute"
      zIndex="11"
      top={{ base: '60px', md: '76px' }}
      bottom={{ base: '84px', md: '240px' }}
      left={{ base: '8px', md: '110px' }}
      right={{ base: '8px', md: '20px' }}
      display="flex"
      overflow="hidden"
    >
      <WideMap
        {...map}
        acts={[
          <IconButton key="small" label="Make the plan small" onClick={onFold}>
            <Minimize2 size={18} aria-hidden />
          </IconButton>,
          <IconButton key="fold" label="Fold the plan" onClick={onClose}>
            <X size={18} aria-hidden />
          </IconButton>,
          <OpenBeside key="beside" page="plan" onOpen={onClose} />,
        ]}
      />
    </Card>
  );
}

/** The plan on the lower half of a phone. */
function Half({ onFold, ...map }: ShapeProps) {
  return (
    <Card
      as="section"
      aria-label="Plan"
      data-covers
      position="absolute"
      zIndex="11"
      left="8px"
      right="8px"
      bottom="84px"
      h="44dvh"
      display="flex"
      overflow="hidden"
    >
      <WideMap
        {...map}
        acts={[
          <IconButton key="fold" label="Fold the plan" onClick={onFold}>
            <X size={20} aria-hidden />
          </IconButton>,
        ]}
      />
    </Card>
  );
}
