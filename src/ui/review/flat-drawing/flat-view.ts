/** Which part of a drawing a canvas shows: a scale and the place in its middle. Metres in the drawing, y up. */
export interface FlatView {
  /** Pixels to a metre. */
  scale: number;
  middle: [number, number];
}

export interface Size {
  width: number;
  height: number;
}

/** Pixels that stay free around a drawing that is shown whole. */
const AROUND = 28;
const MOST_SCALE = 5000;
const LEAST_SCALE = 0.05;

/** A view that shows bounds whole. @param bounds least and greatest x and y */
export function wholeView(
  [x0, y0, x1, y1]: readonly [number, number, number, number],
  { width, height }: Size,
): FlatView {
  const room = (size: number) => Math.max(40, size - 2 * AROUND);
  const scale = Math.min(room(width) / Math.max(x1 - x0, 1e-3), room(height) / Math.max(y1 - y0, 1e-3));
  return { scale: bounded(scale), middle: [(x0 + x1) / 2, (y0 + y1) / 2] };
}

export function toCanvas(
  { scale, middle }: FlatView,
  { width, height }: Size,
  [x, y]: readonly [number, number],
): { x: number; y: number } {
  return { x: width / 2 + (x - middle[0]) * scale, y: height / 2 - (y - middle[1]) * scale };
}

export function toDrawing(
  { scale, middle }: FlatView,
  { width, height }: Size,
  x: number,
  y: number,
): [number, number] {
  return [middle[0] + (x - width / 2) / scale, middle[1] - (y - height / 2) / scale];
}

/** Larger or smaller about a place of the canvas, which stays. */
export function zoomed(view: FlatView, size: Size, x: number, y: number, times: number): FlatView {
  const [px, py] = toDrawing(view, size, x, y);
  const scale = bounded(view.scale * times);
  return { scale, middle: [px - (x - size.width / 2) / scale, py + (y - size.height / 2) / scale] };
}

export function moved(view: FlatView, dx: number, dy: number): FlatView {
  return { ...view, middle: [view.middle[0] - dx / view.scale, view.middle[1] + dy / view.scale] };
}

function bounded(scale: number): number {
  return Math.min(MOST_SCALE, Math.max(LEAST_SCALE, scale));
}
