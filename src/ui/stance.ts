import { useStore } from 'zustand';
import {
  BODIES,
  BODY_KINDS,
  GREATEST_EYE,
  LEAST_EYE,
  PACES,
  type Body,
  type BodyKind,
  type Pace,
} from '@/core/walk/body';
import { keptStore } from './kept-store';

/** As whom this person walks, and how fast. */
export interface Stance {
  kind: BodyKind | 'own';
  /** Own eye height, metres. */
  eye: number;
  pace: Pace;
}

const FIRST: Stance = { kind: 'adult', eye: 1.7, pace: 'walk' };

/** Kept in the person's browser. */
export const stanceStore = keptStore('stance', FIRST, readStance);

export function useStance(): Stance {
  return useStore(stanceStore);
}

/** What is not an eye height goes to the nearest that is one. */
export function eyeHeight(value: number): number {
  return Math.min(GREATEST_EYE, Math.max(LEAST_EYE, value));
}

export function bodyOf({ kind, eye }: Stance): Body {
  return kind === 'own' ? { ...BODIES.adult, eye } : BODIES[kind];
}

/** What was kept, as far as it makes sense. */
function readStance({ kind, eye, pace }: Partial<Record<keyof Stance, unknown>>): Stance {
  return {
    kind: kind === 'own' ? 'own' : (BODY_KINDS.find((one) => one === kind) ?? FIRST.kind),
    eye: typeof eye === 'number' && Number.isFinite(eye) ? eyeHeight(eye) : FIRST.eye,
    pace: (Object.keys(PACES) as Pace[]).find((one) => one === pace) ?? FIRST.pace,
  };
}
