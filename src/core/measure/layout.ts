import type { Vec3 } from '../math/mat4';
import type { MeasureFigure } from './figure';

/** A place in the picture, in pixels, y downwards. */
export interface Place {
  x: number;
  y: number;
}

export interface CardPlace {
  /** Its left upper corner. */
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A measure as it stands in the picture. */
export interface LaidOut {
  dimensions: Place[][];
  leaders: Place[][];
  fills: Place[][];
  dots: Place[];
  /** Strokes across the ends and corners of dimension lines. */
  ticks: [Place, Place][];
  /** Null where nothing of the measure is in the picture. */
  card: CardPlace | null;
  /** From the card to what it speaks of, where it stands away. */
  pointer: [Place, Place] | null;
}

export interface Picture {
  width: number;
  height: number;
  /** The part of it that nothing covers: cards stand there, as far as there is room. */
  free: { left: number; top: number; right: number; bottom: number };
  /** Where a line of space stands, as far as it is before the camera; null where nothing of it is. */
  line(a: Vec3, b: Vec3): [Place, Place] | null;
  place(point: Vec3): Place | null;
}

/** Half the length of a tick, and the space that a card keeps from what it speaks of; pixels at the size of `text`. */
const TICK = 0.5;
const GAP = 0.55;
/** A card that stands farther from its place than this gets a pointer, in sizes of the text. */
const NEAR = 2.2;

/**
 * Lays measures out in a picture: lines where they are, ticks at a slant, each card beside its line where it covers neither
 * what it speaks of nor another card, as far as there is room.
 *
 * @param cards size of each measure's card @param text height of the text, pixels
 */
export function layOut(
  figures: readonly MeasureFigure[],
  cards: readonly { width: number; height: number }[],
  picture: Picture,
  text: number,
): LaidOut[] {
  const taken: CardPlace[] = [];
  return figures.map((figure, i) => {
    const line = (points: readonly Vec3[]) => projected(points, picture);
    const dimensions = figure.dimensions.flatMap(line);
    const leaders = figure.leaders.flatMap(line);
    const strokes = [...dimensions, ...leaders];
    const dots = figure.dots.flatMap((dot) => picture.place(dot) ?? []);
    const fills = figure.fills.flatMap((fill) => {
      const places = fill.map((point) => picture.place(point));
      return places.every((place) => place !== null) ? [places] : [];
    });
    const anchor = anchorOf(figure, dimensions, picture);
    const card = anchor && cardBeside(anchor, cards[i]!, strokes, taken, picture, text);
    if (card) taken.push(card);
    return {
      dimensions,
      leaders,
      fills,
      dots,
      ticks: dimensions.flatMap((path) => ticksOf(path, TICK * text)),
      card,
      pointer: card && anchor && pointerOf(card, anchor.at, NEAR * text),
    };
  });
}

/** A line through points, in the parts that are before the camera. */
function projected(points: readonly Vec3[], picture: Picture): Place[][] {
  const paths: Place[][] = [];
  let path: Place[] = [];
  for (let i = 0; i + 1 < points.length; i++) {
    const part = picture.line(points[i]!, points[i + 1]!);
    if (!part) continue;
    const last = path[path.length - 1];
    const goesOn = last && Math.hypot(last.x - part[0].x, last.y - part[0].y) < 0.01;
    if (!goesOn) paths.push((path = [part[0]]));
    path.push(part[1]);
  }
  return paths;
}

interface Anchor {
  at: Place;
  /** Direction of the line beside which the card stands, of length 1. */
  along: Place;
}

function anchorOf(figure: MeasureFigure, dimensions: readonly Place[][], picture: Picture): Anchor | null {
  if (figure.card !== 'dimension') {
    const at = picture.place(figure.card);
    return at && isWithin(at, picture) ? { at, along: { x: 1, y: 0 } } : null;
  }
  const { free, width, height } = picture;
  const whole = { left: 0, top: 0, right: width, bottom: height };
  return middleWithin(dimensions, free) ?? middleWithin(dimensions, whole);
}

/** The middle of the longest part that lies within an area. */
function middleWithin(dimensions: readonly Place[][], { left, top, right, bottom }: Picture['free']): Anchor | null {
  let best: Anchor | null = null;
  let longest = -1;
  for (const path of dimensions)
    for (let i = 0; i + 1 < path.length; i++) {
      const seen = clippedTo(path[i]!, path[i + 1]!, left, top, right, bottom);
      if (!seen) continue;
      const [a, b] = seen;
      const length = Math.hypot(b.x - a.x, b.y - a.y);
      if (length <= longest) continue;
      longest = length;
      const along = length > 1e-6 ? { x: (b.x - a.x) / length, y: (b.y - a.y) / length } : { x: 1, y: 0 };
      best = { at: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }, along };
    }
  return best;
}

/** The first of the places around its anchor where a card is in nobody's way, or the one where it is least. */
function cardBeside(
  { at, along }: Anchor,
  { width, height }: { width: number; height: number },
  strokes: readonly Place[][],
  taken: readonly CardPlace[],
  picture: Picture,
  text: number,
): CardPlace {
  const across =
    along.y < 0 || (along.y === 0 && along.x > 0) ? { x: along.y, y: -along.x } : { x: -along.y, y: along.x };
  const aside = (direction: Place) => Math.abs(direction.x) * (width / 2) + Math.abs(direction.y) * (height / 2);
  let best: CardPlace | null = null;
  let least = Infinity;
  for (const farther of [0, 1.2, 3, 6])
    for (const side of [1, -1])
      for (const slide of [0, 1, -1, 2, -2]) {
        const away = aside(across) + (GAP + farther) * text;
        const beside = slide * aside(along);
        const x = at.x + side * across.x * away + along.x * beside - width / 2;
        const y = at.y + side * across.y * away + along.y * beside - height / 2;
        const card = { x: Math.round(x), y: Math.round(y), width, height };
        const cost =
          8 * Number(strokes.some((path) => crossesCard(path, card))) +
          4 * taken.filter((other) => overlap(other, card)).length +
          6 * Number(!fits(card, picture));
        if (cost < least) [best, least] = [card, cost];
        if (cost === 0) return card;
      }
  return best!;
}

function ticksOf(path: readonly Place[], half: number): [Place, Place][] {
  return path.map((at, i) => {
    const [from, to] = [path[Math.max(0, i - 1)]!, path[Math.min(path.length - 1, i + 1)]!];
    const length = Math.hypot(to.x - from.x, to.y - from.y);
    const [x, y] = length > 1e-6 ? [(to.x - from.x) / length, (to.y - from.y) / length] : [1, 0];
    // At 45° to the line, as on drawings.
    const [dx, dy] = [(x - y) * Math.SQRT1_2 * half, (x + y) * Math.SQRT1_2 * half];
    return [
      { x: at.x - dx, y: at.y - dy },
      { x: at.x + dx, y: at.y + dy },
    ];
  });
}

function pointerOf(card: CardPlace, at: Place, near: number): [Place, Place] | null {
  const to = {
    x: Math.min(card.x + card.width, Math.max(card.x, at.x)),
    y: Math.min(card.y + card.height, Math.max(card.y, at.y)),
  };
  return Math.hypot(to.x - at.x, to.y - at.y) > near ? [to, at] : null;
}

function crossesCard(path: readonly Place[], card: CardPlace): boolean {
  return path.some(
    (at, i) => i > 0 && clippedTo(path[i - 1]!, at, card.x, card.y, card.x + card.width, card.y + card.height),
  );
}

function overlap(a: CardPlace, b: CardPlace): boolean {
  return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

function fits({ x, y, width, height }: CardPlace, { free }: Picture): boolean {
  return x >= free.left && y >= free.top && x + width <= free.right && y + height <= free.bottom;
}

function isWithin({ x, y }: Place, { width, height }: Picture): boolean {
  return x >= 0 && y >= 0 && x <= width && y <= height;
}

/** The part of a line within a rectangle, by Liang and Barsky. */
function clippedTo(a: Place, b: Place, x0: number, y0: number, x1: number, y1: number): [Place, Place] | null {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  let [from, to] = [0, 1];
  for (const [step, room] of [
    [-dx, a.x - x0],
    [dx, x1 - a.x],
    [-dy, a.y - y0],
    [dy, y1 - a.y],
  ] as const) {
    if (step === 0 && room < 0) return null;
    if (step < 0) from = Math.max(from, room / step);
    if (step > 0) to = Math.min(to, room / step);
  }
  if (from > to) return null;
  const at = (share: number) => ({ x: a.x + dx * share, y: a.y + dy * share });
  return [at(from), at(to)];
}
