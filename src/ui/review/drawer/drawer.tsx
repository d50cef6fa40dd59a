'use client';
import { Box, Button, Flex } from '@chakra-ui/react';
import { lazy, Suspense } from 'react';
import { Card } from '../../controls';
import { OpenBeside } from '../beside/open-beside';
import type { DrawerPage } from '../review-state';
import { useReview, useSession } from '../session-context';

/** Each page's code comes when it is first opened. */
const Contents = lazy(() => import('./contents').then((module) => ({ default: module.Contents })));
const Facts = lazy(() => import('./facts').then((module) => ({ default: module.Facts })));
const Talk = lazy(() => import('./talk').then((module) => ({ default: module.Talk })));

const PAGES: { key: DrawerPage; label: string }[] = [
  { key: 'contents', label: 'Contents' },
  { key: 'facts', label: 'Facts' },
  { key: 'talk', label: 'Talk' },
];

/** The one drawer: contents, facts or talk; a second press on its name folds it. */
export function Drawer() {
  const session = useSession();
  const open = useReview((state) => state.drawer);
  const isBelow = useReview((state) => state.crown === 'crown');
  return (
    <Card
      as="aside"
      aria-label="Drawer"
      data-covers={open ? true : undefined}
      position="absolute"
      zIndex="10"
      right={{ base: '8px', md: '20px' }}
      left={{ base: open ? '8px' : 'auto', md: 'auto' }}
      top={{ base: open ? '38dvh' : '64px', md: isBelow ? '296px' : '76px' }}
      bottom={{ base: open ? '84px' : 'auto', md: open ? '190px' : 'auto' }}
      w={{ base: 'auto', md: '320px' }}
      display="flex"
      flexDirection="column"
      overflow="hidden"
    >
      <Flex
        p="1.5"
        gap="1"
        role="group"
        aria-label="Pages of the drawer"
        direction={{ base: open ? 'row' : 'column', md: 'row' }}
      >
        {PAGES.map(({ key, label }) => (
          <Button
            key={key}
            aria-expanded={open === key}
            onClick={() => session.toggleDrawer(key)}
            variant="ghost"
            flex="1"
            h="40px"
            px="3"
            borderRadius="pill"
            bg={open === key ? 'felt' : 'transparent'}
            color={open === key ? 'ink' : 'softInk'}
            fontWeight="bold"
            _hover={{ bg: 'felt' }}
          >
            {label}
          </Button>
        ))}
        {open ? <OpenBeside page={open} onOpen={() => session.store.setState({ drawer: null })} /> : null}
      </Flex>
      {open ? (
        <Box
          flex="1"
          overflowY="auto"
          borderTopWidth="1px"
          borderColor="seam"
          tabIndex={0}
          role="region"
          aria-label={PAGES.find((page) => page.key === open)!.label}
        >
          <Suspense>{open === 'contents' ? <Contents /> : open === 'facts' ? <Facts /> : <Talk />}</Suspense>
        </Box>
      ) : null}
    </Card>
  );
}
