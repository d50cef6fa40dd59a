'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { X } from 'lucide-react';
import { useTheme } from 'next-themes';
import NextLink from 'next/link';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { TopBar } from '../frame/top-bar';
import { IconButton, Note } from '../controls';
import { StageElement } from '../stage-element';
import { Crown } from './crown/crown';
import { Drawer } from './drawer/drawer';
import { Farewell } from './meeting/farewell';
import { StandingBar } from './moving/standing-bar';
import { WindowFrame } from './moving/window-frame';
import { LowerLeft } from './lower-left';
import { Overlay } from './overlay/overlay';
import { Quiet } from './quiet';
import { RunningOrder } from './records/running-order';
import { ReviewSession } from './session';
import { SessionContext, useReview, useSession } from './session-context';
import type { ReviewStart } from './review-state';
import { toolNamed } from './tools/registry';
import { ToolColumn } from './tools/tool-column';

const Beside = lazy(() => import('./beside/beside').then((module) => ({ default: module.Beside })));
const People = lazy(() => import('./meeting/people').then((module) => ({ default: module.People })));
const DecisionsToConfirm = lazy(() =>
  import('./meeting/deciding').then((module) => ({ default: module.DecisionsToConfirm })),
);
const ReviewAgain = lazy(() => import('./replay/review-again').then((module) => ({ default: module.ReviewAgain })));
const ReplayBar = lazy(() => import('./replay/replay-bar').then((module) => ({ default: module.ReplayBar })));
const FlatDrawing = lazy(() =>
  import('./flat-drawing/flat-drawing').then((module) => ({ default: module.FlatDrawing })),
);
const PictureLibrary = lazy(() =>
  import('./pictures/picture-library').then((module) => ({ default: module.PictureLibrary })),
);
const Help = lazy(() => import('./tools/help').then((module) => ({ default: module.Help })));

/** Station Review: the model in the middle, everything else a ring around it. */
export function Review({ start }: { start: ReviewStart }) {
  return start.replay ? (
    <Suspense>
      <ReviewAgain start={start} replay={start.replay} />
    </Suspense>
  ) : (
    <ReviewRoom start={start} begin={() => new ReviewSession(start)} />
  );
}

export function ReviewRoom({ start, begin }: { start: ReviewStart; begin: () => ReviewSession }) {
  const [session] = useState(begin);
  return (
    <SessionContext.Provider value={session}>
      <Box position="fixed" inset="0" overflow="hidden" bg="wool">
        <StageBox />
        {start.beside ? (
          <Suspense>
            <Beside page={start.beside} />
          </Suspense>
        ) : (
          <Ring start={start} />
        )}
      </Box>
    </SessionContext.Provider>
  );
}

/** On a wall board, which is met at arm's length, all that is pressed is larger; the picture keeps its every pixel. */
const BOARD = {
  '--tall': '100dvh',
  '& > *, & > main > *': { pointerEvents: 'auto' },
  '& > main': { pointerEvents: 'none' },
  '@media (min-width: 2400px)': { zoom: 1.7, '--tall': 'calc(100dvh / 1.7)' },
} as const;

/** Everything around the model; hidden on a quiet screen. */
function Ring({ start }: { start: ReviewStart }) {
  const quiet = useReview((state) => state.quiet);
  if (quiet) return <Quiet />;
  return (
    <>
      <Overlay />
      <WindowFrame />
      <Box position="absolute" inset="0" pointerEvents="none" css={BOARD}>
        <TopBar
          project={start.project}
          station={start.rights.stations ? 'review' : undefined}
          home={start.rights.stations ? '/projects' : `/projects/${start.project.id}/review`}
        >
          {start.replay ? null : <Meeting />}
        </TopBar>
        <Box as="main">
          <Text as="h1" srOnly>
            Review of {start.project.name}
          </Text>
          <ToolColumn />
          <StandingBar />
          <LowerLeft />
          <Crown />
          <Drawer />
          {start.replay ? (
            <Suspense>
              <ReplayBar />
            </Suspense>
          ) : (
            <RunningOrder />
          )}
          <Drawing />
          <Notices />
          <HelpCard />
          <Pictures />
          <Farewell />
        </Box>
      </Box>
    </>
  );
}

/** Loaded where there is a meeting, or somebody who may begin one. */
function Meeting() {
  const session = useSession();
  const meeting = useReview((state) => state.meeting);
  return meeting || session.start.rights.host ? (
    <Suspense>
      <People />
    </Suspense>
  ) : null;
}

function Drawing() {
  const face = useReview((state) => state.drawing);
  return face === null ? null : (
    <Suspense>
      <FlatDrawing face={face} />
    </Suspense>
  );
}

function Pictures() {
  const open = useReview((state) => state.pictures);
  return open ? (
    <Suspense>
      <PictureLibrary />
    </Suspense>
  ) : null;
}

function HelpCard() {
  const open = useReview((state) => state.help);
  return open ? (
    <Suspense>
      <Help />
    </Suspense>
  ) : null;
}

function StageBox() {
  const session = useSession();
  const element = useRef<HTMLDivElement>(null);
  const picking = useReview((state) => toolNamed(state.tool).picks || state.picking !== null);
  const { resolvedTheme } = useTheme();
  useEffect(() => session.open(element.current!), [session]);
  useEffect(() => session.stage?.setDim(resolvedTheme === 'dark'), [session, resolvedTheme]);
  return (
    <StageElement
      element={element}
      picking={picking}
      _active={{ cursor: picking ? 'crosshair' : 'grabbing' }}
      onEscape={() => (session.setTool('move'), session.view.select([]))}
    />
  );
}

/** Loading, lost connection, refusals: said once, in one place. */
function Notices() {
  const session = useSession();
  const loading = useReview((state) => state.loading);
  const connected = useReview((state) => state.connected);
  const trouble = useReview((state) => state.trouble);
  const empty = useReview((state) => state.models.length === 0);
  const ended = useReview((state) => state.ended);
  const isMeeting = useReview((state) => state.agreed !== null);
  const older = useReview((state) => state.models.find((model) => model.newerCode !== null));
  if (ended) return null;
  return (
    <Flex
      position="absolute"
      top="64px"
      // On a larger screen between the tray and the crown, which it leaves free.
      left={{ base: '50%', lg: 'calc(50% + 76px)' }}
      transform="translateX(-50%)"
      direction="column"
      align="center"
      gap="2"
      zIndex="15"
      w="max-content"
      maxW={{ base: 'min(520px, 92vw)', lg: '460px' }}
    >
      <Box role="status" aria-live="polite">
        {empty ? (
          <Note text="Nothing has been published in this project yet. It appears here as soon as it is." />
        ) : loading ? (
          <Note text="The model is arriving …" />
        ) : null}
        {older && !session.start.replay ? (
          <Note text={`You see ${older.name} ${older.code}, an older revision; the newest is ${older.newerCode}.`}>
            <NextLink href={`/projects/${session.start.project.id}/review`}>Show the newest</NextLink>
          </Note>
        ) : null}
        {session.start.note ? <Note text={`Your note: ${session.start.note.text}`} /> : null}
        {connected ? null : <Note text="The connection is lost. It comes back by itself; what you see stays." />}
      </Box>
      {isMeeting ? (
        <Suspense>
          <DecisionsToConfirm />
        </Suspense>
      ) : null}
      <Box role="alert">
        {trouble ? (
          <Flex
            bg="card"
            borderWidth="1px"
            borderColor="madder"
            borderRadius="card"
            boxShadow="card"
            pl="4"
            align="center"
          >
            <Text fontSize="sm" py="2">
              {trouble}
            </Text>
            <IconButton label="Close this message" onClick={() => session.dismissTrouble()}>
              <X size={16} aria-hidden />
            </IconButton>
          </Flex>
        ) : null}
      </Box>
    </Flex>
  );
}
