'use client';
import { Box, Button, Flex, Image, Text, type BoxProps } from '@chakra-ui/react';
import { Lock } from 'lucide-react';
import { Fragment, type ReactNode, type Ref } from 'react';
import type { ViewpointCard as Viewpoint } from '@/core/project/viewpoint-card';
import { useSession } from '../session-context';

/** The cards in their order. */
export function CardList({ children }: { children: ReactNode }) {
  return (
    <Box as="ol" display="flex" listStyleType="none" gap="3" aria-label="Viewpoints">
      {children}
    </Box>
  );
}

/** Where another group begins, its name stands upright before its first card. */
export function GroupMark({ group, before, children }: { group: string; before?: string; children: ReactNode }) {
  return (
    <Fragment>
      {group && group !== before ? (
        <Flex as="li" aria-label={`Group ${group}`} align="center" justify="center" w="22px" flexShrink="0">
          <Text
            fontSize="xs"
            fontWeight="bold"
            color="softInk"
            maxH="full"
            truncate
            title={group}
            css={{ writingMode: 'vertical-rl', transform: 'rotate(180deg)' }}
          >
            {group}
          </Text>
        </Flex>
      ) : null}
      {children}
    </Fragment>
  );
}

interface ViewpointCardProps extends BoxProps {
  ref?: Ref<HTMLLIElement>;
  viewpoint: Viewpoint;
  /** Its place in the running order, from 1. */
  number: number;
  /** Whether it is what shows. */
  current: boolean;
  /** What lies over the card, such as its tools. */
  children?: ReactNode;
}

/** A card of the running order: picture and name, one press from the view itself. */
export function ViewpointCard({ viewpoint, number, current, children, ...box }: ViewpointCardProps) {
  const session = useSession();
  const { id, name, hasPicture, pictured, isShared, question, minutes } = viewpoint;
  return (
    <Box
      as="li"
      w={{ base: '120px', md: '160px' }}
      flexShrink="0"
      position="relative"
      borderRadius="12px"
      overflow="hidden"
      borderWidth="2px"
      borderColor={current ? 'madder' : 'seam'}
      bg="felt"
      css={{
        // Cards beside the picture cost nothing until they come into it.
        contentVisibility: 'auto',
        containIntrinsicSize: '160px 120px',
        '& .tools': { opacity: 0 },
        '&:hover .tools, &:focus-within .tools': { opacity: 1 },
      }}
      {...(box as object)}
    >
      <Button
        variant="plain"
        onClick={() => session.view.openViewpoint(viewpoint)}
        aria-label={`Viewpoint ${number}: ${name}`}
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
