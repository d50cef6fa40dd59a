'use client';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { Vec3 } from '@/core/math/mat4';
import { useReview, useSession } from '../session-context';
import { extentOf, type Level } from './levels';
import { roomsOf } from './rooms';
import { frameFor, fromMap, onMap, panned, zoomed, type MapFrame } from './map-frame';

interface CrownMapProps {
  levels: readonly Level[];
  at: number;
  width: number;
  height: number;
  isRound: boolean;
  /** A step through the ladder by keys. */
  onStep: (by: 1 | -1) => void;
}

/** Pixels: length of the view's cone, and how near to its grip a press takes hold of it. */
const CONE = 40;
const GRIP_REACH = 18;
const TAP_PIXELS = 6;
/** Rooms that are narrower on the map go without their names, pixels. */
const LEAST_LABEL = 34;
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

function Plan({ level, frame }: { level: Level; frame: MapFrame }) {
  const { scale, middle, centre } = frame;
  const steps = 'var(--chakra-colors-softInk)';
  return (
    <g
      transform={`translate(${centre[0]} ${centre[1]}) scale(${scale} ${-scale}) translate(${-middle[0]} ${-middle[1]})`}
    >
      {level.parts.map(({ modelId, plan, matrix }) => (
        <g key={`${modelId}/${plan.floor}`} transform={`matrix(${matrix.join(' ')})`} fillRule="evenodd">
          <path d={plan.ground} fill="var(--chakra-colors-card)" />
          <path d={plan.steps} fill="none" stroke={steps} strokeWidth="0.8" vectorEffect="non-scaling-stroke" />
          <path
            d={plan.light}
            fill="var(--chakra-colors-seam)"
            stroke={steps}
            strokeWidth="0.5"
            vectorEffect="non-scaling-stroke"
          />
          <path d={plan.walls} fill="var(--chakra-colors-ink)" />
        </g>
      ))}
    </g>
  );
}

/** Names of rooms, as far as they fit. */
function Rooms({ level, frame }: { level: Level; frame: MapFrame }) {
  const session = useSession();
  const loaded = useReview((state) => state.loaded);
  // Read anew once a model has arrived.
  const rooms = useMemo(() => (loaded > 0 ? roomsOf(session.stage) : []), [session, loaded]);
  return (
    <>
      {rooms.map(({ name, at, width }) => {
        if (!isOn(level, at) || width * frame.scale < LEAST_LABEL) return null;
        const [x, y] = onMap(frame, at[0], at[1]);
        const lines = wrapped(name, Math.floor((width * frame.scale * OVER_ROOM) / LETTER));
        return (
          <text
            key={`${name}/${at.join()}`}
            x={x}
            y={y - ((lines.length - 1) * LINE) / 2}
            textAnchor="middle"
            style={{ fontSize: 11, fill: 'var(--chakra-colors-ink)', pointerEvents: 'none' }}
            stroke="var(--chakra-colors-card)"
            strokeWidth="3"
            paintOrder="stroke"
          >
            {lines.map((line, row) => (
              <tspan key={line} x={x} dy={row === 0 ? 0 : LINE}>
                {line}
              </tspan>
            ))}
          </text>
        );
      })}
    </>
  );
}

/** Pixels: a letter, a line, and by how much a name may reach over its room. */
const LETTER = 5.6;
const LINE = 12;
const OVER_ROOM = 1.35;

/** A room's name without its number, in lines of so many letters; longer words are cut. */
function wrapped(name: string, letters: number): string[] {
  const most = Math.max(4, letters);
  const lines: string[] = [];
  for (const word of name.replace(/^[\d.]+\s+/, '').split(/\s+/)) {
    const short = word.length > most ? `${word.slice(0, most - 1)}…` : word;
    const last = lines[lines.length - 1];
    if (last !== undefined && last.length + short.length < most) lines[lines.length - 1] = `${last} ${short}`;
    else lines.push(short);
  }
  return lines.slice(0, 3);
}

/** This person: moved with every frame, without the page being made anew. */
function You({ eye }: { eye: () => { at: [number, number]; bearing: number } | null }) {
  const session = useSession();
  const group = useRef<SVGGElement>(null);
  useEffect(() => {
    const put = () => {
      const here = eye();
      if (!here || !group.current) return;
      const degrees = (-here.bearing * 180) / Math.PI;
      group.current.setAttribute('transform', `translate(${here.at[0]} ${here.at[1]}) rotate(${degrees})`);
    };
    put();
    return session.onFrame(put);
  }, [session, eye]);
  const colour = session.meeting.isLead ? 'var(--chakra-colors-madder)' : 'var(--chakra-colors-indigo)';
  return (
    <g ref={group}>
      <path d={cone(CONE)} fill={colour} fillOpacity="0.28" />
      <circle
        cx={CONE}
        r="5"
        fill="var(--chakra-colors-card)"
        stroke={colour}
        strokeWidth="2"
        style={{ cursor: 'grab' }}
      />
      <circle r="6" fill={colour} stroke="var(--chakra-colors-card)" strokeWidth="2" />
    </g>
  );
}

interface OthersProps {
  level: Level | undefined;
  frame: MapFrame;
  width: number;
  height: number;
  isRound: boolean;
}

function Others({ level, frame, width, height, isRound }: OthersProps) {
  const eyes = useReview((state) => state.eyes);
  const agreed = useReview((state) => state.agreed);
  return (
    <>
      {Object.entries(eyes).map(([id, { at, towards }]) => {
        const person = agreed?.participants.find((one) => one.id === id);
        if (!person) return null;
        const [x, y] = clamped(onMap(frame, at[0], at[1]), width, height, isRound);
        const colour = `var(--chakra-colors-${id === agreed?.lead ? 'madder' : 'softInk'})`;
        const isHere = isOn(level, at);
        return (
          <g
            key={id}
            data-testid="person-on-map"
            transform={`translate(${x} ${y})`}
            opacity={isHere ? 1 : 0.45}
            style={{ transition: 'transform 120ms linear' }}
          >
            <title>{isHere ? person.name : `${person.name}, on another storey`}</title>
            <path
              d={cone(22)}
              fill={colour}
              fillOpacity="0.3"
              transform={`rotate(${(-Math.atan2(towards[1], towards[0]) * 180) / Math.PI})`}
            />
            <circle r="8" fill={colour} stroke="var(--chakra-colors-card)" strokeWidth="1.5" />
            <text
              textAnchor="middle"
              dy="3"
              style={{ fontSize: 8, fontWeight: 700, fill: 'var(--chakra-colors-onStrong)', pointerEvents: 'none' }}
            >
              {person.name.trim().slice(0, 1).toLocaleUpperCase()}
            </text>
          </g>
        );
      })}
    </>
  );
}

function Comments({ level, frame }: { level: Level; frame: MapFrame }) {
  const session = useSession();
  const comments = useReview((state) => state.comments);
  return (
    <>
      {comments.map((comment) => {
        if (!comment.anchor || comment.replyTo || comment.status !== 'open' || !isOn(level, comment.anchor.point))
          return null;
        const [x, y] = onMap(frame, comment.anchor.point[0], comment.anchor.point[1]);
        return (
          <circle
            key={comment.id}
            cx={x}
            cy={y}
            r="5"
            fill={comment.guest ? 'var(--chakra-colors-indigo)' : 'var(--chakra-colors-ochre)'}
            stroke="var(--chakra-colors-card)"
            strokeWidth="1.5"
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => session.showComment(comment)}
          >
            <title>{`Comment ${comment.number} by ${comment.author}`}</title>
          </circle>
        );
      })}
    </>
  );
}

function Pin({ at: [x, y] }: { at: [number, number] }) {
  return (
    <g transform={`translate(${x} ${y})`} stroke="var(--chakra-colors-madder)" strokeWidth="2" fill="none">
      <circle r="7" />
      <path d="M-11 0h6M5 0h6M0 -11v6M0 5v6" />
    </g>
  );
}

/** Metres below a floor that still belong to it. */
const UNDER_FLOOR = 0.5;

function isOn(level: Level | undefined, [, , z]: Vec3): boolean {
  return level !== undefined && z > level.floor - UNDER_FLOOR && z < level.top - UNDER_FLOOR;
}

/** What somebody sees, as a slice of 60 degrees to the right. */
function cone(length: number): string {
  const [x, y] = [length * Math.cos(Math.PI / 6), length * Math.sin(Math.PI / 6)];
  return `M0 0L${x} ${-y}A${length} ${length} 0 0 1 ${x} ${y}z`;
}

/** Keeps what lies beside the map at its rim. */
function clamped([x, y]: [number, number], width: number, height: number, isRound: boolean): [number, number] {
  const RIM = 9;
  const [cx, cy] = [width / 2, height / 2];
  if (!isRound) return [Math.min(width - RIM, Math.max(RIM, x)), Math.min(height - RIM, Math.max(RIM, y))];
  const far = Math.hypot(x - cx, y - cy);
  const most = Math.min(cx, cy) - RIM;
  return far <= most ? [x, y] : [cx + ((x - cx) / far) * most, cy + ((y - cy) / far) * most];
}
