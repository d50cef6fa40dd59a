'use client';
import { Box, Flex, Text } from '@chakra-ui/react';
import { Maximize2, Minimize2, Ruler, X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { faceWords } from '@/core/cut/face-words';
import type { FlatSection } from '@/stage/features/cuts/flat-section';
import { PointerArbiter } from '@/stage/input/pointer-arbiter';
import { Card, IconButton } from '../../controls';
import { useReading } from '../../reading';
import { OpenBeside } from '../beside/open-beside';
import { useReview, useSession } from '../session-context';
import { SmallSelect } from '../../small-select';
import { aimingTaker } from '../tools/measure/aiming';
import { measuringOf } from '../tools/measure/measuring';
import { FlatCanvas } from './flat-canvas';
import { flatMoving, flatPointable } from './flat-pointing';
import { HandOut } from './hand-out';
import { useFlatSection } from './use-flat-section';

/** The section in one face of a cut, seen square on: in a panel, or over everything. */
export function FlatDrawing({ face }: { face: string }) {
  const session = useSession();
  const [isLarge, setLarge] = useState(false);
  const cuts = useReview((state) => state.view.cuts);
  const spread = useReview((state) => state.view.spread);
  const tool = useReview((state) => state.tool);
  const faces = faceWords(cuts);
  const shown = faces.find(({ key }) => key === face) ?? faces[0];
  const section = useSection(shown?.key ?? '');
  const close = () => session.store.setState({ drawing: null });
  const place = session.start.beside
    ? { inset: '0', zIndex: '1', borderRadius: '0' }
    : isLarge
      ? { inset: { base: '0', md: '12px' }, zIndex: '30' }
      : {
          right: { base: '0', md: '20px' },
          left: { base: '0', md: 'auto' },
          bottom: { base: '0', md: '176px' },
          w: { md: 'min(520px, 46vw)' },
          h: { base: '62dvh', md: 'min(420px, calc(var(--tall, 100dvh) - 330px))' },
          zIndex: '12',
        };
  return (
    <Card
      as="section"
      aria-label="Flat drawing"
      position="absolute"
      display="flex"
      flexDirection="column"
      overflow="hidden"
      {...place}
      onKeyDown={(event) => event.key === 'Escape' && (isLarge ? setLarge(false) : close())}
    >
      <Flex align="center" px="2" py="1" gap="1" borderBottomWidth="1px" borderColor="seam">
        <Flex flex="0 1 190px" minW="120px">
          <SmallSelect
            label="Which cut is drawn"
            value={shown?.key ?? ''}
            options={faces.map(({ key, words }) => [key, words])}
            onChange={(drawing) => session.store.setState({ drawing })}
          />
        </Flex>
        <Box flex="1" />
        <IconButton
          label="Measure on the drawing"
          aria-pressed={tool === 'measure'}
          bg={tool === 'measure' ? 'felt' : undefined}
          onClick={() => session.setTool(tool === 'measure' ? 'cut' : 'measure')}
        >
          <Ruler size={18} aria-hidden />
        </IconButton>
        <HandOut section={section} name={shown?.words ?? ''} />
        <OpenBeside page="drawing" />
        {session.start.beside ? null : (
          <>
            <IconButton label={isLarge ? 'Smaller' : 'Full screen'} onClick={() => setLarge(!isLarge)}>
              {isLarge ? <Minimize2 size={18} aria-hidden /> : <Maximize2 size={18} aria-hidden />}
            </IconButton>
            <IconButton label="Close the flat drawing" onClick={close}>
              <X size={18} aria-hidden />
            </IconButton>
          </>
        )}
      </Flex>
      <Box position="relative" flex="1" minH="0">
        <Canvas section={section} face={shown?.key ?? ''} />
        <Text
          position="absolute"
          inset="0"
          display="grid"
          placeItems="center"
          color="softInk"
          fontSize="sm"
          pointerEvents="none"
          role="status"
        >
          {saying(shown === undefined, spread !== null, section)}
        </Text>
      </Box>
    </Card>
  );
}

function saying(isWithout: boolean, isSpread: boolean, section: FlatSection | null): string {
  if (isWithout) return 'Nothing is cut. Take up Cut to begin.';
  if (isSpread) return 'Things stand beside their places. Put them back to draw their section.';
  if (!section) return 'The section is being drawn …';
  return section.elements.length === 0 ? 'Nothing is cut by this face.' : '';
}

/** The section of a face once it is there; the last one while it is worked out anew. */
function useSection(key: string): FlatSection | null {
  const now = useFlatSection(key);
  const [kept, setKept] = useState<{ key: string; section: FlatSection } | null>(null);
  if (now && (kept?.section !== now || kept.key !== key)) setKept({ key, section: now });
  return now ?? (kept?.key === key ? kept.section : null);
}

function Canvas({ section, face }: { section: FlatSection | null; face: string }) {
  const session = useSession();
  const box = useRef<HTMLDivElement>(null);
  const [flat, setFlat] = useState<FlatCanvas | null>(null);
  const measures = useReview((state) => state.view.measures);
  const tool = useReview((state) => state.tool);
  const measuring = measuringOf(session);
  const chosen = useStore(measuring.hand, (hand) => hand.chosen);
  const reading = useReading();
  const first = useRef(reading);
  const arbiter = useRef<PointerArbiter | null>(null);
  const drawn = useRef('');

  useEffect(() => {
    const element = box.current!;
    const canvas = element.querySelector('canvas')!;
    const made = new FlatCanvas(canvas, first.current);
    const pointers = new PointerArbiter(element, flatMoving(made));
    const observer = new ResizeObserver(() => made.resize(element.clientWidth, element.clientHeight));
    observer.observe(element);
    arbiter.current = pointers;
    setFlat(made);
    return () => {
      observer.disconnect();
      pointers.dispose();
      made.dispose();
      arbiter.current = null;
    };
  }, []);
  useEffect(() => {
    if (!flat) return;
    flat.show(section, section !== null && drawn.current !== face);
    if (section) drawn.current = face;
  }, [flat, section, face]);
  useEffect(() => flat?.showMeasures(measures, chosen, reading), [flat, measures, chosen, reading]);
  useEffect(() => {
    if (!arbiter.current || !flat) return;
    const isMeasuring = tool === 'measure' && section !== null;
    arbiter.current.tool = isMeasuring
      ? aimingTaker(measuring, flatPointable(flat, section), (work) => session.act(work))
      : null;
    if (!isMeasuring) flat.showAim(null);
  }, [flat, section, tool, measuring, session]);

  return (
    <Box
      ref={box}
      position="absolute"
      inset="0"
      tabIndex={0}
      role="application"
      aria-label="Flat drawing. Arrow keys move, plus and minus zoom, Home shows all of it."
      cursor={tool === 'measure' ? 'crosshair' : 'grab'}
      _focusVisible={{ boxShadow: 'inset 0 0 0 3px var(--chakra-colors-indigo)', outline: 'none' }}
    >
      <canvas style={{ display: 'block', width: '100%', height: '100%', touchAction: 'none' }} aria-hidden />
    </Box>
  );
}
