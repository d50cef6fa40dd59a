import type { CameraPose } from '../view/camera';

/** What can be drawn. */
export const MARK_KINDS = ['cloud', 'arrow', 'rectangle', 'text', 'free', 'surface'] as const;
export type MarkKind = (typeof MARK_KINDS)[number];

export const MARK_WORDS: Record<MarkKind, string> = {
  cloud: 'Cloud',
  arrow: 'Arrow',
  rectangle: 'Rectangle',
  text: 'Text',
  free: 'Freehand',
  surface: 'On surfaces',
};

/** Inks by name, as they are on paper. */
export const INKS = ['madder', 'indigo', 'ochre', 'moss', 'ink', 'chalk'] as const;
export type Ink = (typeof INKS)[number];

export const INK_WORDS: Record<Ink, string> = {
  madder: 'Madder',
  indigo: 'Indigo',
  ochre: 'Ochre',
  moss: 'Moss',
  ink: 'Ink',
  chalk: 'Chalk',
};

export const INK_COLOURS: Record<Ink, string> = {
  madder: '#9C3B2E',
  indigo: '#34497F',
  ochre: '#B77D16',
  moss: '#5B6B2F',
  ink: '#26231F',
  chalk: '#FCFAF5',
};

/** How broad a pen is. */
export const PENS = ['fine', 'medium', 'broad'] as const;
export type Pen = (typeof PENS)[number];

export const PEN_WORDS: Record<Pen, string> = { fine: 'Fine', medium: 'Medium', broad: 'Broad' };

/** Width of a pen as a part of half the height of the picture in which it draws. */
export const PEN_WIDTHS: Record<Pen, number> = { fine: 0.005, medium: 0.01, broad: 0.022 };

/** Something drawn over a view, or on surfaces. */
export interface Mark {
  /** Tells it from the others of the same view. */
  id: string;
  kind: MarkKind;
  ink: Ink;
  pen: Pen;
  /**
   * Number by number. On surfaces: three coordinates a point, project, metres. Over a view: how far right of the middle of the
   * picture and above it, two numbers a point, as parts of half its height, so that it lies right in pictures of other sizes.
   * `cloud`, `rectangle`: two opposite corners. `arrow`: its end and its tip. `text`: its lower left corner.
   */
  points: readonly number[];
  /** How hard a pen pressed at each point, 0..1; empty where nothing tells. */
  pressures: readonly number[];
  /** What is written; empty for all but `text`. */
  text: string;
  /** From where it was drawn; null on surfaces. */
  camera: CameraPose | null;
  /** Who drew it. */
  by: { id: string; name: string };
}

export const MOST_MARKS = 200;
export const MOST_MARK_POINTS = 600;
export const MOST_MARK_TEXT = 300;
/** Numbers of all marks of a view together: they go along with every view that is stored. */
export const MOST_MARK_NUMBERS = 60_000;

/** Numbers of a point of a mark. */
export function dimensions(kind: MarkKind): 2 | 3 {
  return kind === 'surface' ? 3 : 2;
}

/** Whether a mark is all there: as many points as its kind needs, something written where it is text. */
export function isWholeMark({ kind, points, pressures, text, camera }: Mark): boolean {
  const size = dimensions(kind);
  const count = points.length / size;
  if (!Number.isInteger(count) || count > MOST_MARK_POINTS) return false;
  if (pressures.length !== 0 && pressures.length !== count) return false;
  if ((kind === 'surface') !== (camera === null)) return false;
  if (kind === 'text') return count === 1 && text.length > 0;
  return kind === 'free' || kind === 'surface' ? count >= 2 : count === 2;
}

/** Marks with some of them put in or replaced, and some taken away. Whoever changes a mark does not become who drew it. */
export function withMarks(marks: readonly Mark[], put: readonly Mark[], gone: readonly string[] = []): Mark[] {
  const fresh = new Map(put.map((mark) => [mark.id, mark]));
  const kept = marks
    .filter(({ id }) => !gone.includes(id))
    .map((mark) => ({ ...(fresh.get(mark.id) ?? mark), by: mark.by }));
  const known = new Set(marks.map(({ id }) => id));
  const all = [...kept, ...put.filter(({ id }) => !known.has(id))].slice(-MOST_MARKS);
  // Of too much the oldest goes.
  let numbers = all.reduce((sum, { points }) => sum + points.length, 0);
  while (numbers > MOST_MARK_NUMBERS) numbers -= all.shift()!.points.length;
  return all;
}

/** What makes one list of marks of another, of those that somebody drew. */
export function changedMarks(from: readonly Mark[], to: readonly Mark[], by: string): { put: Mark[]; gone: string[] } {
  const own = (marks: readonly Mark[]) => marks.filter((mark) => mark.by.id === by);
  const before = new Map(own(from).map((mark) => [mark.id, mark]));
  const after = own(to);
  const ids = new Set(after.map(({ id }) => id));
  return {
    put: after.filter((mark) => JSON.stringify(before.get(mark.id)) !== JSON.stringify(mark)),
    gone: [...before.keys()].filter((id) => !ids.has(id)),
  };
}
