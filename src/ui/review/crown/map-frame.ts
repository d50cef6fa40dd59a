/** How the plan lies on the screen: project metres to pixels, y upwards in the one and downwards in the other. */
export interface MapFrame {
  /** Pixels a metre. */
  scale: number;
  /** Middle of the map, project coordinates, and where it is on the screen. */
  middle: [number, number];
  centre: [number, number];
}

/** Of the room there is, what the plan fills. */
const FILLED = 0.9;

/**
 * Lays an extent into a rectangle, or into the circle within it.
 *
 * @param extent west, south, east, north
 */
export function frameFor(
  [x0, y0, x1, y1]: readonly [number, number, number, number],
  width: number,
  height: number,
  isRound: boolean,
): MapFrame {
  const [w, h] = [Math.max(x1 - x0, 1), Math.max(y1 - y0, 1)];
  const scale = isRound ? Math.min(width, height) / Math.hypot(w, h) : Math.min(width / w, height / h);
  return { scale: scale * FILLED, middle: [(x0 + x1) / 2, (y0 + y1) / 2], centre: [width / 2, height / 2] };
}

export function onMap({ scale, middle, centre }: MapFrame, x: number, y: number): [number, number] {
  return [centre[0] + (x - middle[0]) * scale, centre[1] - (y - middle[1]) * scale];
}

export function fromMap({ scale, middle, centre }: MapFrame, px: number, py: number): [number, number] {
  return [middle[0] + (px - centre[0]) / scale, middle[1] - (py - centre[1]) / scale];
}

/** How much larger than the whole a map may be drawn. */
const MOST_ZOOM = 24;

/** The map larger or smaller, with what lies at a place on the screen staying there; never smaller than the whole. */
export function zoomed(
  frame: MapFrame,
  whole: MapFrame,
  factor: number,
  [px, py]: readonly [number, number],
): MapFrame {
  const scale = Math.min(whole.scale * MOST_ZOOM, Math.max(whole.scale, frame.scale * factor));
  if (scale === whole.scale) return whole;
  const [x, y] = fromMap(frame, px, py);
  const [cx, cy] = frame.centre;
  return { scale, centre: frame.centre, middle: [x - (px - cx) / scale, y + (py - cy) / scale] };
}

/** The map moved by so many pixels. */
export function panned(frame: MapFrame, dx: number, dy: number): MapFrame {
  const [x, y] = frame.middle;
  return { ...frame, middle: [x - dx / frame.scale, y + dy / frame.scale] };
}

/** Pixels: how long the cone of somebody's view is. */
export const CONE = 40;
/** Pixels from the rim at which marks stay that lie beside the map. */
const RIM = 9;

/** Keeps what lies beside the map at its rim. */
export function clamped([x, y]: [number, number], width: number, height: number, isRound: boolean): [number, number] {
  const [cx, cy] = [width / 2, height / 2];
  if (!isRound) return [Math.min(width - RIM, Math.max(RIM, x)), Math.min(height - RIM, Math.max(RIM, y))];
  const far = Math.hypot(x - cx, y - cy);
  const most = Math.min(cx, cy) - RIM;
  return far <= most ? [x, y] : [cx + ((x - cx) / far) * most, cy + ((y - cy) / far) * most];
}
