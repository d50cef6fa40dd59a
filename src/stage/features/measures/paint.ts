import type { LaidOut, Place } from '@/core/measure/layout';
import type { SnapKind } from '@/core/snap/choose-snap';

export type Context2D = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

const INK = '#26231F';
const PAPER = '#FCFAF5';
const MADDER = '#9C3B2E';
/** Colour of what is tinted, over any ground. */
const TINT = 'rgba(156, 59, 46, 0.16)';

export interface Painted {
  laid: LaidOut;
  text: string;
  /** Whether it is being drawn, or pointed out. */
  isStrong: boolean;
  /** Whether it lies behind something: then its lines are dashed, as hidden lines are in drawings. */
  isHidden: boolean;
}

export function fontOf(size: number): string {
  return `600 ${size}px system-ui, sans-serif`;
}

/** Size of a card with a text. @param size height of the text, pixels */
export function cardSize(context: Context2D, text: string, size: number): { width: number; height: number } {
  context.font = fontOf(size);
  return { width: Math.ceil(context.measureText(text).width + size * 1.1), height: Math.ceil(size * 1.75) };
}

/** Draws measures as on a drawing: thin lines in a light rim, so that they are read on any ground; cards over them. */
export function paintMeasures(context: Context2D, measures: readonly Painted[], size: number): void {
  context.lineCap = 'round';
  context.lineJoin = 'round';
  for (const { laid, isStrong, isHidden } of measures) {
    context.fillStyle = TINT;
    for (const fill of laid.fills) {
      trace(context, [fill], true);
      context.fill();
    }
    const thin = size * 0.11;
    const lines = [...laid.dimensions, ...laid.leaders, ...(laid.pointer ? [laid.pointer] : [])];
    context.setLineDash([]);
    stroke(context, [...lines, ...laid.ticks], PAPER, thin + size * 0.24);
    context.setLineDash(isHidden ? [size * 0.5, size * 0.4] : []);
    stroke(context, lines, isStrong ? MADDER : INK, isStrong ? thin * 1.6 : thin);
    context.setLineDash([]);
    stroke(context, laid.ticks, isStrong ? MADDER : INK, thin * 1.9);
    for (const { x, y } of laid.dots) {
      disc(context, x, y, size * 0.34, PAPER);
      disc(context, x, y, size * 0.22, isStrong ? MADDER : INK);
    }
  }
  for (const { laid, text, isStrong } of measures) {
    if (!laid.card) continue;
    const { x, y, width, height } = laid.card;
    context.beginPath();
    context.roundRect(x, y, width, height, height * 0.28);
    context.fillStyle = PAPER;
    context.fill();
    context.lineWidth = isStrong ? size * 0.13 : size * 0.07;
    context.strokeStyle = isStrong ? MADDER : INK;
    context.stroke();
    context.fillStyle = INK;
    context.font = fontOf(size);
    context.textAlign = 'center';
    context.textBaseline = 'middle';
    context.fillText(text, x + width / 2, y + height / 2 + size * 0.06);
  }
}

/** The mark of what a pointed place was taken for, with its word. */
export function paintAim(context: Context2D, { x, y }: Place, kind: SnapKind, word: string, size: number): void {
  const r = size * 0.55;
  const shapes: Record<SnapKind, () => void> = {
    corner: () => context.rect(x - r, y - r, 2 * r, 2 * r),
    middle: () => polygon(context, x, y, r * 1.25, 3, -Math.PI / 2),
    centre: () => context.arc(x, y, r, 0, 2 * Math.PI),
    'centre line': () => (
      line(context, x - 1.6 * r, y, x + 1.6 * r, y),
      context.moveTo(x + r * 0.6, y),
      context.arc(x, y, r * 0.6, 0, 2 * Math.PI)
    ),
    crossing: () => (line(context, x - r, y - r, x + r, y + r), line(context, x - r, y + r, x + r, y - r)),
    edge: () => polygon(context, x, y, r * 1.15, 4, 0),
    square: () => (
      line(context, x - r, y - r, x - r, y + r),
      context.lineTo(x + r, y + r),
      line(context, x - r, y, x, y),
      context.lineTo(x, y + r)
    ),
    face: () => (line(context, x - r, y, x + r, y), line(context, x, y - r, x, y + r)),
  };
  context.setLineDash([]);
  for (const [colour, width] of [
    [PAPER, size * 0.42],
    [MADDER, size * 0.17],
  ] as const) {
    context.beginPath();
    shapes[kind]();
    context.strokeStyle = colour;
    context.lineWidth = width;
    context.stroke();
  }
  context.font = fontOf(size * 0.9);
  context.textAlign = 'left';
  context.textBaseline = 'middle';
  context.lineWidth = size * 0.35;
  context.strokeStyle = PAPER;
  context.strokeText(word, x + size * 1.1, y + size * 1.1);
  context.fillStyle = MADDER;
  context.fillText(word, x + size * 1.1, y + size * 1.1);
}

function trace(context: Context2D, paths: readonly (readonly Place[])[], isLoop = false): void {
  context.beginPath();
  for (const path of paths) {
    path.forEach(({ x, y }, i) => (i === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
    if (isLoop) context.closePath();
  }
}

function stroke(context: Context2D, paths: readonly (readonly Place[])[], colour: string, width: number): void {
  trace(context, paths);
  context.strokeStyle = colour;
  context.lineWidth = width;
  context.stroke();
}

function disc(context: Context2D, x: number, y: number, radius: number, colour: string): void {
  context.beginPath();
  context.arc(x, y, radius, 0, 2 * Math.PI);
  context.fillStyle = colour;
  context.fill();
}

function line(context: Context2D, x0: number, y0: number, x1: number, y1: number): void {
  context.moveTo(x0, y0);
  context.lineTo(x1, y1);
}

function polygon(context: Context2D, x: number, y: number, radius: number, corners: number, from: number): void {
  for (let i = 0; i <= corners; i++) {
    const turn = from + (2 * Math.PI * i) / corners;
    const [px, py] = [x + radius * Math.cos(turn), y + radius * Math.sin(turn)];
    if (i === 0) context.moveTo(px, py);
    else context.lineTo(px, py);
  }
}
