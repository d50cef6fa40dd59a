'use client';
import { Box, Button, Flex, Image, Text, type BoxProps } from '@chakra-ui/react';
import { Lock } from 'lucide-react';
import type { ReactNode, Ref } from 'react';
import type { ViewpointCard as Viewpoint } from '@/core/project/viewpoint-card';
import { TOUCHED } from '../../controls';
import { useSession } from '../session-context';
import type { CardPlace } from './card-strip';

interface ViewpointCardProps extends BoxProps {
  ref?: Ref<HTMLLIElement>;
  viewpoint: Viewpoint;
  place: CardPlace;
  /** Whether it is what shows. */
  current: boolean;
  /** What lies over the card, such as its tools. */
  children?: ReactNode;
}

const TOOLS_SHOW = { opacity: 1, pointerEvents: 'auto' };

/** A card of the running order: picture and name, one press from the view itself. */
export function ViewpointCard({ viewpoint, place, current, children, style, ...box }: ViewpointCardProps) {
  const session = useSession();
  const { id, name, hasPicture, pictured, isShared, question, minutes } = viewpoint;
  return (
    <Box
      as="li"
      data-card={id}
      aria-setsize={place.count}
      aria-posinset={place.number}
      w={{ base: '120px', md: '160px' }}
      position="absolute"
      top="0"
      bottom="0"
      borderRadius="12px"
      overflow="hidden"
      borderWidth="2px"
      borderColor={current ? 'madder' : 'seam'}
      bg="felt"
      css={{
        // A finger that taps the card presses nothing that it does not see yet.
        '& .tools': { opacity: 0, pointerEvents: 'none' },
        '&:has(:focus-visible) .tools': TOOLS_SHOW,
        // A tap is a hover as well: what that shows can be pressed a little later.
        '@media (hover: hover)': {
          '&:hover .tools': { ...TOOLS_SHOW, transition: 'pointer-events 0s 150ms allow-discrete' },
        },
        [TOUCHED]: { '& .tools': current ? TOOLS_SHOW : {} },
      }}
      style={{ left: place.left, ...style }}
      {...(box as object)}
    >
      <Button
        variant="plain"
        onClick={() => session.view.openViewpoint(viewpoint)}
        aria-label={`Viewpoint ${place.number}: ${name}`}
        aria-current={current ? 'step' : undefined}
        title={question || undefined}
        w="full"
        h="full"
        p="0"
        display="flex"
        flexDirection="column"
        alignItems="stretch"
        gap="0"
        textAlign="left"
        borderRadius="0"
      >
        {/* It gives way where a scroll bar needs room. */}
        <Box display={{ base: 'none', md: 'block' }} flex="1" minH="0" bg="seam">
          {hasPicture ? (
            <Image
              src={`/api/projects/${session.start.project.id}/viewpoints/${id}/picture?${Date.parse(pictured)}`}
              alt=""
              loading="lazy"
              decoding="async"
              w="full"
              h="full"
              objectFit="cover"
              draggable={false}
            />
          ) : null}
        </Box>
        <Flex px="2.5" py={{ base: '2.5', md: '1' }} align="center" gap="1.5" minW="0">
          {isShared ? null : <Lock size={12} aria-label="Only for you" />}
          <Text fontSize="sm" fontWeight="bold" color="ink" truncate flex="1">
            {name}
          </Text>
          {question || minutes ? (
            <Text fontSize="xs" color="softInk" flexShrink="0">
              {question ? '?' : ''}
              {minutes ? ` ${minutes} min` : ''}
            </Text>
          ) : null}
        </Flex>
      </Button>
      {children}
    </Box>
  );
}
