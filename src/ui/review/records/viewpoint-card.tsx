'use client';
import { Box, Button, Image, Text, type BoxProps } from '@chakra-ui/react';
import type { ReactNode, Ref } from 'react';
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
      css={{ '& .tools': { opacity: 0 }, '&:hover .tools, &:focus-within .tools': { opacity: 1 } }}
      {...(box as object)}
    >
      <Button
        variant="plain"
        onClick={() => session.view.openViewpoint(viewpoint)}
        aria-label={`Viewpoint ${number}: ${viewpoint.name}`}
        aria-current={current ? 'step' : undefined}
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
          {viewpoint.hasPicture ? (
            <Image
              src={`/api/projects/${session.start.project.id}/viewpoints/${viewpoint.id}/picture`}
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
        <Text px="2.5" py={{ base: '2.5', md: '1' }} fontSize="sm" fontWeight="bold" color="ink" truncate>
          {viewpoint.name}
        </Text>
      </Button>
      {children}
    </Box>
  );
}
