'use client';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { useSession } from '../session-context';
import { extentOf, type Level } from './levels';
import { clamped, CONE, frameFor, fromMap, onMap, panned, zoomed, type MapFrame } from './map-frame';
import { Comments, Others, Pin, Plan, Rooms, You } from './map-marks';

interface CrownMapProps {
  levels: readonly Level[];
  at: number;
  width: number;
  height: number;
  isRound: boolean;
  /** A step through the ladder by keys. */
  onStep: (by: 1 | -1) => void;
}

/** Pixels: how near to the grip of the view's cone a press takes hold of it. */
const GRIP_REACH = 18;
const TAP_PIXELS = 6;
/** Radians a key turns, metres a key moves the pin. */
const KEY_TURN = Math.PI / 12;
const KEY_METRES = 1;
const KEY_LEAP = 5;
const KEY_ZOOM = 1.4;
const WHEEL_ZOOM = 0.0016;

/**
 * The plan of a storey as a live map: where one is and looks, where the others are, what was said. A tap is to be there, a
 * drag of the cone to look there.
 */
export function CrownMap({ levels, at, width, height, isRound, onStep }: CrownMapProps) {
  const session = useSession();
  const svg = useRef<SVGSVGElement>(null);
  const extent = useMemo(() => extentOf(levels), [levels]);
  const whole = useMemo(() => extent && frameFor(extent, width, height, isRound), [extent, width, height, isRound]);
  const [moved, setMoved] = useState<{ whole: MapFrame; frame: MapFrame } | null>(null);
  // A map of another size or extent begins with the whole again.
  const frame = moved && moved.whole === whole ? moved.frame : whole;
  const move = (next: MapFrame) => whole && !isRound && setMoved({ whole, frame: next });
  const [pin, setPin] = useState<[number, number] | null>(null);
  const hold = useRef<{ x: number; y: number; isTurning: boolean; isMoved: boolean } | null>(null);
  const fingers = useRef(new Map<number, [number, number]>());
  const level = levels[at];

  const placeOf = (event: PointerEvent): [number, number] => {
    const bounds = svg.current!.getBoundingClientRect();
    // On a wall board what is seen is larger than its own pixels.
    const zoom = bounds.width / width;
    return [(event.clientX - bounds.left) / zoom, (event.clientY - bounds.top) / zoom];
  };
  const eye = (): { at: [number, number]; bearing: number } | null => {
    const pose = session.stage?.rig.pose;
    if (!pose || !frame) return null;
    const { position, target } = pose;
    return {
      at: clamped(onMap(frame, position[0], position[1]), width, height, isRound),
      bearing: Math.atan2(target[1] - position[1], target[0] - position[0]),
    };
  };
  const standAt = (x: number, y: number) => {
    if (level) session.act(async () => void (await session.moving.standOn([x, y, level.floor])));
  };
  const turnTo = (px: number, py: number) => {
    const from = eye();
    if (from) session.moving.lookTowards(Math.atan2(from.at[1] - py, px - from.at[0]));
  };

  const press = (event: PointerEvent<SVGSVGElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    const [x, y] = placeOf(event);
    fingers.current.set(event.pointerId, [x, y]);
    if (fingers.current.size > 1 && hold.current) {
      hold.current.isMoved = true;
      return;
    }
    const from = eye();
    const grip = from && [from.at[0] + Math.cos(from.bearing) * CONE, from.at[1] - Math.sin(from.bearing) * CONE];
    hold.current = {
      x,
      y,
      isTurning: grip !== null && Math.hypot(x - grip[0]!, y - grip[1]!) < GRIP_REACH,
      isMoved: false,
    };
  };
  const drag = (event: PointerEvent<SVGSVGElement>) => {
    const before = fingers.current.get(event.pointerId);
    const held = hold.current;
    if (!before || !held || !frame || !whole) return;
    const now = placeOf(event);
    const other = [...fingers.current].find(([id]) => id !== event.pointerId)?.[1];
    fingers.current.set(event.pointerId, now);
    if (other) {
      const apart = (place: [number, number]) => Math.max(1, Math.hypot(place[0] - other[0], place[1] - other[1]));
      const between: [number, number] = [(now[0] + other[0]) / 2, (now[1] + other[1]) / 2];
      move(zoomed(frame, whole, apart(now) / apart(before), between));
    } else if (held.isTurning) turnTo(...now);
    else if (held.isMoved || Math.hypot(now[0] - held.x, now[1] - held.y) >= TAP_PIXELS) {
      held.isMoved = true;
      move(panned(frame, now[0] - before[0], now[1] - before[1]));
    }
  };
  const release = (event: PointerEvent<SVGSVGElement>) => {
    const held = hold.current;
    fingers.current.delete(event.pointerId);
    if (fingers.current.size > 0) return;
    hold.current = null;
    if (!held || held.isTurning || held.isMoved || !frame) return;
    standAt(...fromMap(frame, ...placeOf(event)));
  };
  useEffect(() => {
    const element = svg.current!;
    const onWheel = (event: WheelEvent) => {
      if (!frame || !whole || isRound) return;
      event.preventDefault();
      const bounds = element.getBoundingClientRect();
      const zoom = bounds.width / width;
      const place: [number, number] = [(event.clientX - bounds.left) / zoom, (event.clientY - bounds.top) / zoom];
      setMoved({ whole, frame: zoomed(frame, whole, Math.exp(-event.deltaY * WHEEL_ZOOM), place) });
    };
    // The browser would scroll the page with it.
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [frame, whole, isRound, width]);
  const onKey = (event: KeyboardEvent) => {
    const { middle } = frame ?? { middle: [0, 0] as [number, number] };
    const [x, y] = pin ?? middle;
    const far = event.shiftKey ? KEY_LEAP : KEY_METRES;
    const turn = (by: number) => {
      const from = eye();
      if (from) session.moving.lookTowards(from.bearing + by);
    };
    const acts: Record<string, () => void> = {
      ArrowLeft: () => setPin([x - far, y]),
      ArrowRight: () => setPin([x + far, y]),
      ArrowUp: () => setPin([x, y + far]),
      ArrowDown: () => setPin([x, y - far]),
      Enter: () => standAt(x, y),
      ',': () => turn(KEY_TURN),
      '.': () => turn(-KEY_TURN),
      '+': () => frame && whole && move(zoomed(frame, whole, KEY_ZOOM, [width / 2, height / 2])),
      '-': () => frame && whole && move(zoomed(frame, whole, 1 / KEY_ZOOM, [width / 2, height / 2])),
      PageUp: () => onStep(1),
      PageDown: () => onStep(-1),
    };
    const act = acts[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };

  return (
    <svg
      ref={svg}
      width={width}
      height={height}
      role="application"
      tabIndex={0}
      aria-label={`Plan of ${level?.name ?? 'the model'}. Arrow keys move the pin, Enter stands there, comma and full stop turn, plus and minus zoom, Page Up and Page Down change the storey.`}
      style={{ display: 'block', touchAction: 'none', cursor: 'pointer', borderRadius: isRound ? '50%' : 12 }}
      onPointerDown={press}
      onPointerMove={drag}
      onPointerUp={release}
      onPointerCancel={() => {
        hold.current = null;
        fingers.current.clear();
      }}
      onKeyDown={onKey}
      onBlur={() => setPin(null)}
    >
      <rect width={width} height={height} fill="var(--chakra-colors-felt)" />
      {frame && level ? <Plan level={level} frame={frame} /> : null}
      {frame && level && !isRound ? <Rooms level={level} frame={frame} /> : null}
      {frame && level ? <Comments level={level} frame={frame} /> : null}
      {frame ? <Others level={level} frame={frame} width={width} height={height} isRound={isRound} /> : null}
      {frame ? <You eye={eye} /> : null}
      {frame && pin ? <Pin at={onMap(frame, ...pin)} /> : null}
    </svg>
  );
}
