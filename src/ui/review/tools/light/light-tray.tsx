'use client';
import { Box, Flex, Input, Text } from '@chakra-ui/react';
import { Pause, Play } from 'lucide-react';
import { lazy, Suspense, useEffect, useState, type ReactNode } from 'react';
import { clock, DAY_MINUTES, isDate } from '@/core/sun/calendar';
import { localTimeAt, momentOf } from '@/core/sun/local-time';
import { sunDay } from '@/core/sun/sun-day';
import { directionWords, sunAt } from '@/core/sun/sun-position';
import type { SunSite } from '@/core/sun/sun-site';
import { MOST_EXPOSURE, type Light } from '@/core/view/light';
import { IconButton } from '../../../controls';
import { useReview, useSession } from '../../session-context';
import { RangeSlider } from '../range-slider';
import { TrayAct, TrayCard } from '../tray';
import { SiteForm } from './site-form';
import { StyleSection } from './style-section';

const SunHere = lazy(() => import('./sun-here').then((module) => ({ default: module.SunHere })));

/** A played day takes so long. */
const DAY_SECONDS = 14;
const STEP_MINUTES = 5;
const FRAME_MS = 60;

/** The sun of the place at a day and hour, its shadows, the hours of sun somewhere, and how the model is drawn. */
export function LightTray() {
  const session = useSession();
  const light = useReview((state) => state.view.light);
  const { site } = useReview((state) => state.site);
  const [isPlacing, setPlacing] = useState(false);
  const set = (change: Partial<Light>, isMoving = false) =>
    session.view.set({ light: { ...session.store.getState().view.light, ...change } }, isMoving);
  const switchSun = () => {
    if (!site) return setPlacing(true);
    const { date } = localTimeAt(new Date(), site.timeZone);
    set({ at: light.at ? null : { date, minutes: 15 * 60 } });
  };
  return (
    <TrayCard label="Light" width="300px">
      <Flex gap="2" wrap="wrap">
        <TrayAct pressed={light.at !== null} hint="The sun as it stands over the place" onClick={switchSun}>
          Sun of the place
        </TrayAct>
        <TrayAct pressed={light.shadows} onClick={() => set({ shadows: !light.shadows })}>
          Shadows
        </TrayAct>
      </Flex>
      {site && light.at ? <Hour site={site} at={light.at} onChange={(at, isMoving) => set({ at }, isMoving)} /> : null}
      <Box mt="2">
        <Text fontSize="xs" color="softInk">
          Brightness
        </Text>
        <RangeSlider
          label="Brightness"
          value={light.exposure}
          min={-MOST_EXPOSURE}
          max={MOST_EXPOSURE}
          step={0.1}
          text={(value) => (value === 0 ? 'as is' : `${value > 0 ? '+' : '−'}${Math.abs(value).toFixed(1)}`)}
          onMove={(exposure) => set({ exposure }, true)}
          onEnd={(exposure) => set({ exposure })}
        />
      </Box>
      {site ? (
        <Suspense>
          <SunHere site={site} />
        </Suspense>
      ) : null}
      <Place isOpen={isPlacing} onToggle={() => setPlacing(!isPlacing)} onDone={() => setPlacing(false)} />
      <StyleSection />
    </TrayCard>
  );
}

interface HourProps {
  site: SunSite;
  at: NonNullable<Light['at']>;
  onChange: (at: NonNullable<Light['at']>, isMoving: boolean) => void;
}

function Hour({ site, at, onChange }: HourProps) {
  const session = useSession();
  const [isPlaying, setPlaying] = useState(false);
  const { azimuth, elevation } = sunAt(site, momentOf(at, site.timeZone));
  const { rises, sets, kind } = sunDay(site, at.date);
  useEffect(() => {
    if (!isPlaying) return;
    const now = () => session.store.getState().view.light.at;
    const timer = setInterval(() => {
      const before = now();
      if (!before) return setPlaying(false);
      const minutes = (before.minutes + (DAY_MINUTES * FRAME_MS) / (DAY_SECONDS * 1000)) % DAY_MINUTES;
      onChange({ ...before, minutes }, true);
    }, FRAME_MS);
    return () => {
      clearInterval(timer);
      const last = now();
      if (last) onChange({ ...last, minutes: Math.round(last.minutes) % DAY_MINUTES }, false);
    };
    // What it calls changes with every minute; only starting and stopping matter.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isPlaying]);
  return (
    <Box mt="3">
      <Flex gap="2" align="center">
        <Input
          type="date"
          aria-label="Day"
          size="sm"
          minH="40px"
          borderColor="seam"
          value={at.date}
          onChange={(event) => isDate(event.target.value) && onChange({ ...at, date: event.target.value }, false)}
        />
        <IconButton label={isPlaying ? 'Stop the day' : 'Play the day'} onClick={() => setPlaying(!isPlaying)}>
          {isPlaying ? <Pause size={18} aria-hidden /> : <Play size={18} aria-hidden />}
        </IconButton>
      </Flex>
      <RangeSlider
        label="Hour"
        value={at.minutes}
        min={0}
        max={DAY_MINUTES - STEP_MINUTES}
        step={STEP_MINUTES}
        text={clock}
        onMove={(minutes) => onChange({ ...at, minutes }, true)}
        onEnd={(minutes) => onChange({ ...at, minutes }, false)}
      />
      <Line>
        {kind === 'polar-day'
          ? 'The sun does not set on this day.'
          : kind === 'polar-night'
            ? 'The sun does not rise on this day.'
            : `Sunrise ${rises === null ? '–' : clock(rises)}, sunset ${sets === null ? '–' : clock(sets)}`}
      </Line>
      <Line>
        {elevation < 0
          ? `The sun is ${(-elevation).toFixed(1)}° below the horizon, in the ${directionWords(azimuth)}.`
          : `Sun in the ${directionWords(azimuth)} (${azimuth.toFixed(1)}°), ${elevation.toFixed(1)}° high`}
      </Line>
    </Box>
  );
}

function Line({ children }: { children: ReactNode }) {
  return (
    <Text fontSize="sm" color="softInk">
      {children}
    </Text>
  );
}

/** Where the project stands, and how that is known. */
function Place({ isOpen, onToggle, onDone }: { isOpen: boolean; onToggle: () => void; onDone: () => void }) {
  const session = useSession();
  const { site, by } = useReview((state) => state.site);
  const { arrange } = session.start.rights;
  return (
    <Box mt="3" pt="3" borderTopWidth="1px" borderColor="seam">
      <Flex align="center" gap="2">
        <Text fontSize="sm" color="softInk" flex="1">
          {site
            ? `${degrees(site.latitude, 'N', 'S')}, ${degrees(site.longitude, 'E', 'W')} ${by === 'hand' ? '(set by hand)' : '(from the model)'}`
            : 'No model says where it stands.'}
        </Text>
        {arrange ? (
          <TrayAct pressed={isOpen} onClick={onToggle}>
            Place
          </TrayAct>
        ) : null}
      </Flex>
      {isOpen && arrange ? <SiteForm onDone={onDone} /> : null}
    </Box>
  );
}

function degrees(value: number, positive: string, negative: string): string {
  return `${Math.abs(value).toFixed(3)}° ${value < 0 ? negative : positive}`;
}
