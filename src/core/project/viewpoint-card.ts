import { PART_NAMES, pick, type ViewChange, type ViewPartName, type ViewState } from '../view/view-state';

/** A card of the running order. */
export interface ViewpointCard {
  id: string;
  name: string;
  state: ViewState;
  hasPicture: boolean;
  /** Name of its group; empty where it is in none. */
  group: string;
  /** Whether others see it; until then it is its author's own. */
  isShared: boolean;
  /** What is to be decided before it; empty where nothing is. */
  question: string;
  /** Minutes that it is given in a meeting; null where no time is set. */
  minutes: number | null;
  /** The parts of the view that it brings back; null for all of them. */
  parts: ViewPartName[] | null;
  /** When its picture was last taken: tells addresses of pictures apart. */
  pictured: string;
}

/** What can be changed of a viewpoint, beside its place in the order. */
export type ViewpointDetails = Pick<ViewpointCard, 'name' | 'group' | 'isShared' | 'question' | 'minutes' | 'parts'>;

export const MOST_MINUTES = 480;

/** What opening a viewpoint changes of the view. */
export function changeOf({ state, parts }: Pick<ViewpointCard, 'state' | 'parts'>): ViewChange {
  return parts ? pick(state, parts) : state;
}

/** Parts as they may have been stored by any version; null for all. Never throws. */
export function readParts(stored: unknown): ViewPartName[] | null {
  if (!Array.isArray(stored)) return null;
  const parts = PART_NAMES.filter((name) => stored.includes(name));
  return parts.length > 0 ? parts : null;
}
