'use client';
import { useMemo, useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { normalTurn } from '@/core/math/turn';
import { clock, DAY_MINUTES } from '@/core/sun/calendar';
import { localTimeAt } from '@/core/sun/local-time';
import { sunPath } from '@/core/sun/sun-day';
import { sunDirection, type SunSite } from '@/core/sun/sun-site';
import { useReview, useSession } from '../session-context';

const STEP = 5;
const MINUTES = Array.from({ length: DAY_MINUTES / STEP }, (_, i) => i * STEP);
/** The hour that is offered first. */
const FIRST = 15 * 60;

/** The sun's way over the day on the ring about the map; its disc is dragged to set the hour. */
export function SunRing({ site, size, radius }: { site: SunSite; size: number; radius: number }) {
  const session = useSession();
  const light = useReview((state) => state.view.light);
  const knob = useRef<SVGGElement>(null);
  const at = light.at ?? { date: localTimeAt(new Date(), site.timeZone).date, minutes: FIRST };
  /** By five minutes: the bearing on the map, radians from east towards north, of the sun that is up. */
  const path = useMemo(
    () =>
      sunPath(site, at.date, MINUTES).map((position, i) => {
        const [x, y] = sunDirection(position, site.north);
        return { minutes: MINUTES[i]!, bearing: Math.atan2(y, x), isUp: position.elevation > 0 };
      }),
    [site, at.date],
  );
  const up = path.filter(({ isUp }) => isUp);
  const nearest = path[Math.min(path.length - 1, Math.round(at.minutes / STEP))]!;
  const place = (bearing: number) => [size / 2 + radius * Math.cos(bearing), size / 2 - radius * Math.sin(bearing)];
  const set = (minutes: number, isMoving: boolean) =>
    session.view.set({ light: { ...light, at: { ...at, minutes } } }, isMoving);
  const minutesAt = (event: PointerEvent): number => {
    const bounds = knob.current!.ownerSVGElement!.getBoundingClientRect();
    const bearing = Math.atan2(
      bounds.top + bounds.height / 2 - event.clientY,
      event.clientX - bounds.left - bounds.width / 2,
    );
    const apart = (other: number) => Math.abs(normalTurn(other - bearing));
    const candidates = up.length > 0 ? up : path;
    return candidates.reduce((best, one) => (apart(one.bearing) < apart(best.bearing) ? one : best)).minutes;
  };
  const onKey = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -15, ArrowDown: -15, ArrowRight: 15, ArrowUp: 15 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    set((Math.round(at.minutes) + by + DAY_MINUTES) % DAY_MINUTES, false);
  };
  const [x, y] = place(nearest.bearing);
  const arc = up.map(
    ({ bearing }, i) =>
      `${i === 0 ? 'M' : 'L'}${place(bearing)
        .map((v) => v.toFixed(1))
        .join(' ')}`,
  );
  return (
    <>
      <path d={arc.join('')} fill="none" stroke="var(--chakra-colors-sun)" strokeWidth="4" strokeLinecap="round" />
      <g
        ref={knob}
        role="slider"
        tabIndex={0}
        aria-label="Hour of the sun"
        aria-valuemin={0}
        aria-valuemax={DAY_MINUTES}
        aria-valuenow={Math.round(at.minutes)}
        aria-valuetext={`${at.date}, ${clock(at.minutes)}`}
        transform={`translate(${x} ${y})`}
        opacity={light.at ? 1 : 0.75}
        style={{ cursor: 'grab', touchAction: 'none' }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          event.stopPropagation();
        }}
        onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && set(minutesAt(event), true)}
        onPointerUp={(event) => set(minutesAt(event), false)}
        onKeyDown={onKey}
      >
        <circle r="20" fill="transparent" />
        <circle
          r="9"
          fill={light.at && nearest.isUp ? 'var(--chakra-colors-sun)' : 'var(--chakra-colors-card)'}
          stroke="var(--chakra-colors-sun)"
          strokeWidth="2.5"
        />
      </g>
    </>
  );
}
