'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { lazy, Suspense, useEffect, useState, type ComponentType } from 'react';
import { Tick } from '../../tick';
import { CrownPage } from '../crown/crown-page';
import { useReview, useSession } from '../session-context';
import { BESIDE_WORDS, type BesidePage } from './pages';

const Contents = lazy(() => import('../drawer/contents').then((module) => ({ default: module.Contents })));
const Facts = lazy(() => import('../drawer/facts').then((module) => ({ default: module.Facts })));
const Talk = lazy(() => import('../drawer/talk').then((module) => ({ default: module.Talk })));
const FlatDrawing = lazy(() =>
  import('../flat-drawing/flat-drawing').then((module) => ({ default: module.FlatDrawing })),
);

const PAGES: Record<Exclude<BesidePage, 'view'>, ComponentType> = {
  contents: Contents,
  facts: Facts,
  talk: Talk,
  drawing: Drawing,
  plan: CrownPage,
};

/** A window beside the first one: one page of it, or a second view, in step with it. */
export function Beside({ page }: { page: BesidePage }) {
  const session = useSession();
  const Page = page === 'view' ? null : PAGES[page];
  // The server knows nothing of what these pages show.
  const [isHere, setHere] = useState(false);
  useEffect(() => setHere(true), []);
  return (
    <>
      <Flex
        as="header"
        position="absolute"
        zIndex="20"
        top="0"
        left="0"
        right="0"
        h="48px"
        px="4"
        align="center"
        gap="4"
        bg={Page ? 'card' : undefined}
        borderBottomWidth={Page ? '1px' : '0'}
        borderColor="seam"
      >
        <Text as="h1" fontWeight="bold">
          {BESIDE_WORDS[page]}
        </Text>
        <Text color="softInk" fontSize="sm" truncate flex="1">
          {session.start.project.name}, beside the Review
        </Text>
        {page === 'view' ? <OwnCamera /> : null}
      </Flex>
      {Page ? (
        <Box as="main" position="absolute" zIndex="15" inset="48px 0 0 0" bg="card" overflowY="auto">
          <Suspense>{isHere ? <Page /> : null}</Suspense>
        </Box>
      ) : null}
    </>
  );
}

function Drawing() {
  const face = useReview((state) => state.drawing);
  return <FlatDrawing face={face ?? ''} />;
}

function OwnCamera() {
  const { beside } = useSession();
  const [isOwn, setOwn] = useState(beside?.hasOwnCamera ?? false);
  return (
    <Tick
      checked={isOwn}
      onTick={(checked) => {
        if (beside) beside.hasOwnCamera = checked;
        setOwn(checked);
        if (!checked) beside?.ask();
      }}
    >
      Looks from elsewhere
    </Tick>
  );
}
