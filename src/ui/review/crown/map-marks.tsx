'use client';
import { useEffect, useMemo, useRef } from 'react';
import type { Vec3 } from '@/core/math/mat4';
import { useReview, useSession } from '../session-context';
import type { Level } from './levels';
import { clamped, CONE, onMap, type MapFrame } from './map-frame';
import { pinned } from '../overlay/paint-pins';
import { roomsOf } from './rooms';

/** Rooms that are narrower on the map go without their names, pixels. */
const LEAST_LABEL = 34;

export function Plan({ level, frame }: { level: Level; frame: MapFrame }) {
  const { scale, middle, centre } = frame;
  const steps = 'var(--chakra-colors-soft-ink)';
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
export function Rooms({ level, frame }: { level: Level; frame: MapFrame }) {
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
export function You({ eye }: { eye: () => { at: [number, number]; bearing: number } | null }) {
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

export function Others({ level, frame, width, height, isRound }: OthersProps) {
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
              style={{ fontSize: 8, fontWeight: 700, fill: 'var(--chakra-colors-on-strong)', pointerEvents: 'none' }}
            >
              {person.name.trim().slice(0, 1).toLocaleUpperCase()}
            </text>
          </g>
        );
      })}
    </>
  );
}

export function Comments({ level, frame }: { level: Level; frame: MapFrame }) {
  const session = useSession();
  const comments = useReview((state) => state.comments);
  return (
    <>
      {pinned(comments).map((comment) => {
        if (!isOn(level, comment.anchor.point)) return null;
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
            onClick={() => session.act(() => session.showComment(comment))}
          >
            <title>{`Comment ${comment.number} by ${comment.author}`}</title>
          </circle>
        );
      })}
    </>
  );
}

export function Pin({ at: [x, y] }: { at: [number, number] }) {
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
