import type { ElementCut } from '../section/section';
import type { Plane } from '../section/plane';
import { pathBounds } from '../section/path';

/** One element as it is drawn in a section. */
export interface DrawnElement extends ElementCut {
  guid: string;
  name: string;
  category: string;
  material: string;
}

/** A section seen square on, in the frame of its plane: metres, x to the right, y up. */
export interface Drawing {
  plane: Plane;
  elements: DrawnElement[];
}

/** What stands beside a drawing. */
export interface DrawingTitle {
  title: string;
  /** Which revision, such as `P02`. */
  revision?: string;
  /** As it is to be read. */
  date: string;
}

/** Least and greatest x and y of all that is drawn; null where nothing is. */
export function drawingBounds({ elements }: Drawing): [number, number, number, number] | null {
  const bounds: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { regions, lines } of elements)
    for (const path of [...regions.map(({ border }) => border), ...lines]) {
      const own = pathBounds(path);
      bounds[0] = Math.min(bounds[0], own[0]);
      bounds[1] = Math.min(bounds[1], own[1]);
      bounds[2] = Math.max(bounds[2], own[2]);
      bounds[3] = Math.max(bounds[3], own[3]);
    }
  return bounds[0] <= bounds[2] ? bounds : null;
}

/** Area of all elements together, each element's holes taken off; square metres. */
export function drawingArea({ elements }: Drawing): number {
  return elements.reduce((sum, { area }) => sum + area, 0);
}

/** Pen widths on paper, millimetres: after ISO 128-2, the cut heavier than its hatch. */
export const PENS = { cut: 0.5, open: 0.25, bar: 0.35, hatch: 0.13 };

/** The ground of a hatch as grey, 0 black to 255 white. @param tone 0 paper, 1 ink */
export function groundGrey(tone: number): number {
  return Math.round(255 - tone * 217);
}

/** What stands under a drawing, in its order. */
export function titleWords({ title, revision, date }: DrawingTitle, scale: number): string[] {
  return [title, ...(revision ? [revision] : []), date, `1:${scale}`];
}

/** A length for a scale bar: a round number of metres, about a fifth of the width. */
export function scaleBarLength(width: number): number {
  const raw = Math.max(width / 5, 1e-3);
  const decade = 10 ** Math.floor(Math.log10(raw));
  return [5, 2, 1].map((step) => step * decade).find((length) => length <= raw) ?? decade;
}
